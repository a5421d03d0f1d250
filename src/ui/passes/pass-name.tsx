"use client";

import type { Pass } from "@/core/beat/beat";
import { useWorkspace } from "../workspace/use-workspace";
import styles from "./passes.module.scss";

export interface PassNameProps {
  readonly pass: Pass;
  readonly editing: boolean;
  readonly disabled: boolean;
  onEdit(editing: boolean): void;
}

/** A pass's name, changed in place after a double click. */
export function PassName({ pass, editing, disabled, onEdit }: PassNameProps) {
  const workspace = useWorkspace();
  if (!editing) return <span onDoubleClick={() => !disabled && onEdit(true)}>{pass.name}</span>;
  const done = (name: string) => {
    onEdit(false);
    if (name !== pass.name) workspace.renamePass(pass.id, name);
  };
  return (
    <input
      className={styles.rename}
      aria-label={`Name of ${pass.name}`}
      autoFocus
      maxLength={120}
      defaultValue={pass.name}
      onFocus={(event) => event.currentTarget.select()}
      onBlur={(event) => done(event.currentTarget.value)}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") onEdit(false);
      }}
    />
  );
}
