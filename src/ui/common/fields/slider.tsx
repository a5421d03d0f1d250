"use client";

import { useEffect, useRef, type KeyboardEvent } from "react";
import styles from "./slider.module.scss";
import type { NumberValue } from "./use-number-field";
import { useWheel } from "./use-wheel";

export interface SliderProps extends Omit<NumberValue, "decimals"> {
  /** How it is said. */
  readonly text: string;
  readonly disabled?: boolean;
  readonly className?: string | undefined;
}

let gestures = 0;

const isOpen = ({ disabled }: HTMLInputElement) => !disabled;

/** How many steps a key goes (ARIA Authoring Practices, the slider, from memory). */
const STEPS: Readonly<Record<string, number>> = {
  ArrowLeft: -1,
  ArrowDown: -1,
  ArrowRight: 1,
  ArrowUp: 1,
  PageDown: -10,
  PageUp: 10,
  Home: -Infinity,
  End: Infinity,
};

/** A number along a line: dragged, nudged with arrow keys and the wheel, reset with a double click. */
export function Slider(props: SliderProps) {
  const { label, value, min, max, step, standard, text, disabled, className = "", onChange } = props;
  const input = useRef<HTMLInputElement>(null);
  const gesture = useRef("");
  // Keys and turns may come faster than the page is drawn; each counts from the one before.
  const latest = useRef(value);
  useEffect(() => {
    latest.current = value;
  }, [value]);
  const begin = () => (gesture.current = `${label} ${++gestures}`);
  const change = (next: number, what = gesture.current) => {
    const within = Math.min(max, Math.max(min, next));
    if (within === latest.current) return;
    latest.current = within;
    onChange(within, what);
  };
  useWheel(input, isOpen, (direction) => change(latest.current + direction * step, `${label} wheel`));
  const press = (event: KeyboardEvent) => {
    const by = STEPS[event.key];
    if (by === undefined) return;
    event.preventDefault();
    change(latest.current + by * step * (event.shiftKey ? 10 : 1));
  };
  return (
    <input
      ref={input}
      type="range"
      className={`${styles.slider} ${className}`}
      aria-label={label}
      aria-valuetext={text}
      title={`${label}: ${text}; double click resets`}
      min={min}
      max={max}
      step={step}
      value={value}
      disabled={disabled}
      onFocus={begin}
      onPointerDown={begin}
      // The next Space is for the transport.
      onPointerUp={(event) => event.currentTarget.blur()}
      onKeyDown={press}
      onChange={(event) => change(event.currentTarget.valueAsNumber)}
      onDoubleClick={() => change(standard, `${label} ${++gestures}`)}
    />
  );
}
