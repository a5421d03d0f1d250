"use client";

import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { typedNumber } from "@/core/editing/typed/typed-number";
import { useWorkspace } from "../../workspace/use-workspace";
import { numberProblem } from "./number-problem";
import { useWheel } from "./use-wheel";

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
  readonly unit?: string;
  /** What is said instead of nought. */
  readonly zero?: string;
  /** `gesture` is the same for all nudges of one visit to the field. */
  onChange(value: number, gesture: string): void;
}

let visits = 0;

const hasKeyboard = (field: HTMLInputElement) => document.activeElement === field;

/** Keys struck on the way to the pads are dropped; pasted text is read as a whole. */
const NO_FIGURES = /[^\d.,\-−]/g;

/** What a number field shows, and what typing, nudging, turning and leaving it do. */
export function useNumberField(number: NumberValue) {
  const { label, value, min, max, step, standard, decimals = 0, unit, zero, onChange } = number;
  const { store } = useWorkspace();
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
    const kept = !dropped.current && typed !== undefined && typed.trim() !== "";
    dropped.current = false;
    setTyped(undefined);
    if (!kept) return;
    const next = typedNumber(typed, unit);
    const notice = numberProblem(label, typed, next, { min, max, unit });
    if (notice) store.setState({ notice });
    else change(next!);
  };
  const input = useRef<HTMLInputElement>(null);
  useWheel(input, hasKeyboard, (direction) => change(latest.current + direction * step));

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

  const description = typed === undefined && value === 0 ? zero : undefined;
  return {
    input,
    says: description,
    shown: typed ?? description ?? value.toFixed(decimals),
    handlers: {
      onFocus(event: React.FocusEvent<HTMLInputElement>) {
        latest.current = value;
        gesture.current = `${label} ${++visits}`;
        event.currentTarget.select();
      },
      onChange({ currentTarget, nativeEvent }: React.ChangeEvent<HTMLInputElement>) {
        const pasted = (nativeEvent as InputEvent).inputType === "insertFromPaste";
        setTyped(pasted ? currentTarget.value : currentTarget.value.replace(NO_FIGURES, ""));
      },
      onBlur: takeTyped,
      onKeyDown: press,
      onDoubleClick() {
        setTyped(undefined);
        change(standard);
      },
    },
  };
}
