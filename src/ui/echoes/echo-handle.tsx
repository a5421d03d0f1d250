"use client";

import type { KeyboardEvent, PointerEvent } from "react";

interface EchoHandleProps {
  readonly label: string;
  readonly className: string;
  /** Where it stands, 0..1 of the picture. */
  readonly share: number;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly text: string;
  onStep(by: number): void;
  /** @param share where the pointer is, 0..1 of the picture */
  onDrag(share: number): void;
  onDrop?(): void;
}

/** Something in the picture of an echo that is dragged, or stepped by keys. */
export function EchoHandle({
  label,
  className,
  share,
  value,
  min,
  max,
  text,
  onStep,
  onDrag,
  onDrop,
}: EchoHandleProps) {
  const press = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (!by) return;
    event.preventDefault();
    onStep(by);
  };
  const drag = ({ currentTarget, pointerId, clientX }: PointerEvent) => {
    if (!currentTarget.hasPointerCapture(pointerId)) return;
    const { left, width } = currentTarget.parentElement!.getBoundingClientRect();
    onDrag((clientX - left) / width);
  };
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuetext={text}
      title={`${label}: ${text}`}
      className={className}
      style={{ left: `${(100 * share).toFixed(2)}%` }}
      onKeyDown={press}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={drag}
      onPointerUp={onDrop}
    />
  );
}
