"use client";

import type { ReactNode } from "react";
import styles from "./sounds.module.scss";

interface ChoiceProps {
  readonly group: string;
  readonly name: string;
  readonly description?: string;
  readonly icon?: ReactNode;
  readonly checked: boolean;
  onChoose(): void;
}

/** One of several that exclude each other; arrow keys go through them. */
export function Choice({ group, name, description, icon, checked, onChoose }: ChoiceProps) {
  return (
    <label className={styles.choice}>
      <input
        type="radio"
        name={group}
        className="visually-hidden"
        aria-label={description ? `${name}, ${description}` : name}
        checked={checked}
        onChange={onChoose}
      />
      {icon}
      <span>{name}</span>
      {description && <small>{description}</small>}
    </label>
  );
}
