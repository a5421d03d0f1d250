"use client";

import { useId, useRef, useState, type KeyboardEvent } from "react";
import styles from "./hits.module.scss";

export interface EntryFieldProps {
  readonly label: string;
  /** Before the field, for the eye. */
  readonly mark?: string;
  readonly shown: string;
  readonly title?: string;
  readonly disabled?: boolean;
  readonly className?: string;
  /** It is there to be typed into: what it begins with, if not what it shows. */
  readonly begun?: string;
  /** @returns why it is not taken, in words */
  onType(typed: string): string | undefined;
  /** Arrow keys nudge. @param by 1 or -1, with Shift ten times as much */
  onNudge?(by: number): void;
  /** It was left, with what was typed taken or not. */
  onLeave?(): void;
}

/** A value that is typed in any usual form: Enter keeps it, Escape gives up, what is wrong is said at the field. */
export function EntryField(props: EntryFieldProps) {
  const { label, mark, shown, title, disabled, className = "", begun, onType, onNudge, onLeave } = props;
  const id = useId();
  const [typed, setTyped] = useState<string | undefined>(begun || undefined);
  const [refusal, setRefusal] = useState<string>();
  // The field is left right after Enter, before it is drawn again: what is taken must be taken once.
  const latest = useRef(typed);
  const type = (text: string | undefined) => {
    latest.current = text;
    setTyped(text);
  };
  const take = (): boolean => {
    const text = latest.current?.trim();
    const refused = text ? onType(text) : undefined;
    setRefusal(refused);
    if (refused === undefined) type(undefined);
    return refused === undefined;
  };
  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    const nudge = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (nudge !== 0 && onNudge && typed === undefined) {
      event.preventDefault();
      onNudge(nudge * (event.shiftKey ? 10 : 1));
    } else if (event.key === "Escape") {
      event.preventDefault();
      type(undefined);
      setRefusal(undefined);
      event.currentTarget.blur();
    } else if (event.key === "Enter") {
      event.preventDefault();
      if (take()) event.currentTarget.blur();
    }
  };
  return (
    <span className={`${styles.entry} ${className}`}>
      {mark && (
        <label htmlFor={id} aria-hidden>
          {mark}
        </label>
      )}
      <input
        id={id}
        className="form-control numerals"
        aria-label={label}
        aria-invalid={refusal !== undefined}
        aria-describedby={refusal === undefined ? undefined : `${id}-refusal`}
        autoComplete="off"
        spellCheck={false}
        title={title}
        disabled={disabled}
        value={typed ?? shown}
        autoFocus={begun !== undefined}
        onFocus={(event) => !begun && event.currentTarget.select()}
        onChange={(event) => type(event.currentTarget.value)}
        onBlur={() => {
          // What is wrong does not hold anybody up.
          if (!take()) type(undefined);
          onLeave?.();
        }}
        onKeyDown={press}
      />
      {refusal !== undefined && (
        <span id={`${id}-refusal`} role="alert" className={styles.refusal}>
          {refusal}
        </span>
      )}
    </span>
  );
}
