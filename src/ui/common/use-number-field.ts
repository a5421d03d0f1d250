"use client";

import { useEffect, useRef, useState, type KeyboardEvent } from "react";

/** A number within its range, and who is told when it changes. */
export interface NumberValue {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  /** What a double click brings back. */
  readonly standard: number;
  readonly decimals?: number;
  /** `gesture` is the same for all nudges of one visit to the field. */
  onChange(value: number, gesture: string): void;
}

let visits = 0;

/** What is struck on the way to the pads is no part of a number. */
const NO_FIGURES = /[^\d.,-]/g;

/** What a number field shows, and what typing, nudging, turning and leaving it do. */
export function useNumberField({ label, value, min, max, step, standard, decimals = 0, onChange }: NumberValue) {
  const [typed, setTyped] = useState<string>();
  const gesture = useRef("");
  const dropped = useRef(false);
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
    if (!dropped.current && typed !== undefined && typed.trim() !== "" && Number.isFinite(next)) change(next);
    dropped.current = false;
    setTyped(undefined);
  };
  const input = useWheel((direction) => change(latest.current + direction * step));

  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    const direction = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (direction !== 0) {
      event.preventDefault();
      takeTyped();
      change(latest.current + direction * step * (event.shiftKey ? 10 : 1));
    } else if (["Enter", " ", "Escape"].includes(event.key)) {
      event.preventDefault();
      // What was typed is taken, or dropped, when the field is left, which is at once.
      dropped.current = event.key === "Escape";
      event.currentTarget.blur();
    }
  };

  return {
    input,
    shown: typed ?? value.toFixed(decimals),
    handlers: {
      onFocus(event: React.FocusEvent<HTMLInputElement>) {
        latest.current = value;
        gesture.current = `${label} ${++visits}`;
        event.currentTarget.select();
      },
      onChange: (event: React.ChangeEvent<HTMLInputElement>) =>
        setTyped(event.currentTarget.value.replace(NO_FIGURES, "")),
      onBlur: takeTyped,
      onKeyDown: press,
      onDoubleClick() {
        setTyped(undefined);
        change(standard);
      },
    },
  };
}

/** The wheel over a field that has the keyboard. @param turn is given 1 for up and -1 for down */
function useWheel(turn: (direction: 1 | -1) => void) {
  const input = useRef<HTMLInputElement>(null);
  const latest = useRef(turn);
  useEffect(() => {
    latest.current = turn;
  });
  useEffect(() => {
    const field = input.current!;
    // React's own wheel listener is passive and could not keep the page from scrolling.
    const wheel = (event: WheelEvent) => {
      if (document.activeElement !== field) return;
      event.preventDefault();
      latest.current(event.deltaY < 0 ? 1 : -1);
    };
    field.addEventListener("wheel", wheel, { passive: false });
    return () => field.removeEventListener("wheel", wheel);
  }, []);
  return input;
}
