"use client";

import { useId } from "react";
import styles from "./number-field.module.scss";
import { useNumberField, type NumberValue } from "./use-number-field";

export interface NumberFieldProps extends NumberValue {
  readonly large?: boolean;
  /** Small and on one line, its label only for screen readers. */
  readonly inline?: boolean;
  /** Puts the unit beside the label, where the strip is short of room. */
  readonly unitAbove?: boolean;
  readonly disabled?: boolean;
}

/** A number that can be typed, nudged with arrows (Shift: ten steps) and the wheel, and reset with a double click. */
export function NumberField(props: NumberFieldProps) {
  const { label, value, min, max, unit, decimals = 0, large, inline, unitAbove, disabled } = props;
  const id = useId();
  const { input, says: description, shown, handlers } = useNumberField(props);
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
        aria-valuetext={description ?? `${value.toFixed(decimals)}${unit ? ` ${unit}` : ""}`}
        title="Type, arrow keys, wheel; double click resets"
        disabled={disabled}
        value={shown}
        {...handlers}
      />
      {unit && !unitAbove && (
        <span className={`${styles.unit} ${description ? styles.unsaid : ""}`} aria-hidden>
          {unit}
        </span>
      )}
    </div>
  );
}
