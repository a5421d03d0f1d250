"use client";

import { useEffect, useId, useRef, useState, type KeyboardEvent } from "react";
import styles from "./number-field.module.scss";

export interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  /** What a double click brings back. */
  readonly standard: number;
  readonly unit?: string;
  readonly decimals?: number;
  readonly large?: boolean;
  /** Small and on one line, its label only for screen readers. */
  readonly inline?: boolean;
  /** Puts the unit beside the label, where the strip is short of room. */
  readonly unitAbove?: boolean;
  readonly disabled?: boolean;
  /** `gesture` is the same for all nudges of one visit to the field. */
  onChange(value: number, gesture: string): void;
}

let visits = 0;

/** A number that can be typed, nudged with arrows (Shift: ten steps) and the wheel, and reset with a double click. */
export function NumberField(props: NumberFieldProps) {
  const {
    label,
    value,
    min,
    max,
    step,
    standard,
    unit,
    decimals = 0,
    large,
    inline,
    unitAbove,
    disabled,
    onChange,
  } = props;
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const gesture = useRef("");
  const [typed, setTyped] = useState<string>();

  // Nudges may come faster than the page is drawn; each counts from the one before.
  const latest = useRef(value);
  useEffect(() => {
    latest.current = value;
  }, [value]);
  const change = (next: number) => {
    const clean = Number(Math.min(max, Math.max(min, next)).toFixed(3));
    if (clean === latest.current) return;
    latest.current = clean;
    onChange(clean, gesture.current);
  };
  const takeTyped = () => {
    const next = Number(typed?.replace(",", "."));
    if (typed !== undefined && typed.trim() !== "" && Number.isFinite(next)) change(next);
    setTyped(undefined);
  };
  const nudge = useRef(change);
  useEffect(() => {
    nudge.current = (delta) => change(latest.current + delta);
  });
  useEffect(() => {
    const field = input.current!;
    // React's own wheel listener is passive and could not keep the page from scrolling.
    const turn = (event: WheelEvent) => {
      if (document.activeElement !== field) return;
      event.preventDefault();
      nudge.current(event.deltaY < 0 ? step : -step);
    };
    field.addEventListener("wheel", turn, { passive: false });
    return () => field.removeEventListener("wheel", turn);
  }, [step]);

  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    const direction = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (direction !== 0) {
      event.preventDefault();
      takeTyped();
      change(latest.current + direction * step * (event.shiftKey ? 10 : 1));
    } else if (event.key === "Enter") event.currentTarget.blur();
    else if (event.key === "Escape") setTyped(undefined);
  };

  return (
    <div className={`${styles.field} ${large ? styles.large : ""} ${inline ? styles.inline : ""}`}>
      <label htmlFor={id} className={inline ? "visually-hidden" : styles.label}>
        {label}
        {unitAbove && <span aria-hidden> {unit}</span>}
      </label>
      <input
        ref={input}
        id={id}
        className={`form-control numerals ${styles.input}`}
        role="spinbutton"
        inputMode="decimal"
        autoComplete="off"
        aria-valuenow={value}
        aria-valuemin={min}
        aria-valuemax={max}
        aria-valuetext={`${value.toFixed(decimals)}${unit ? ` ${unit}` : ""}`}
        title="Type, arrow keys, wheel; double click resets"
        disabled={disabled}
        value={typed ?? value.toFixed(decimals)}
        onFocus={(event) => {
          latest.current = value;
          gesture.current = `${label} ${++visits}`;
          event.currentTarget.select();
        }}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={takeTyped}
        onKeyDown={press}
        onDoubleClick={() => {
          setTyped(undefined);
          change(standard);
        }}
      />
      {unit && !unitAbove && (
        <span className={styles.unit} aria-hidden>
          {unit}
        </span>
      )}
    </div>
  );
}
