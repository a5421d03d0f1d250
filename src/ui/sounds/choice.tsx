"use client";

import type { ReactNode } from "react";
import styles from "./sounds.module.scss";

interface ChoiceProps {
  readonly group: string;
  readonly name: string;
  readonly says?: string;
  readonly icon?: ReactNode;
  readonly checked: boolean;
  onChoose(): void;
}

/** One of several that exclude each other; arrow keys go through them. */
export function Choice({ group, name, says, icon, checked, onChoose }: ChoiceProps) {
  return (
    <label className={styles.choice}>
      <input
        type="radio"
        name={group}
        className="visually-hidden"
        aria-label={says ? `${name}, ${says}` : name}
        checked={checked}
        onChange={onChoose}
      />
      {icon}
      <span>{name}</span>
      {says && <small>{says}</small>}
    </label>
  );
}
