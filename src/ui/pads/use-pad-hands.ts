"use client";

import { useEffect, useRef, type FocusEvent, type KeyboardEvent, type PointerEvent } from "react";
import { KEYS_DEVICE, POINTER_DEVICE } from "@/inputs/played-hit";
import { useWorkspace } from "../workspace/use-workspace";

/** Velocity at the lower and the upper edge of a pad. */
const SOFTEST = 30;
const HARDEST = 127;

/** The higher a pad is touched, the harder the stroke. */
function velocityAt({ clientY, currentTarget }: PointerEvent): number {
  const { bottom, height } = currentTarget.getBoundingClientRect();
  const share = Math.max(0, Math.min(1, (bottom - clientY) / height));
  return Math.round(SOFTEST + share * (HARDEST - SOFTEST));
}

/** Strikes lanes, and lets go of those that it struck: the pad may have others by then, or be gone. */
function useHeldLanes(lanes: readonly number[]) {
  const workspace = useWorkspace();
  const held = useRef(new Map<string, readonly number[]>());
  const strike = (velocity: number, timeMs: number, device: string) => {
    held.current.set(device, lanes);
    lanes.forEach((lane) => workspace.strike({ lane, velocity, timeMs, device }));
  };
  const release = (timeMs: number, device: string) => {
    held.current.get(device)?.forEach((lane) => workspace.release({ lane, timeMs, device }));
    held.current.delete(device);
  };
  const press = (velocity: number) =>
    held.current.get(POINTER_DEVICE)?.forEach((lane) => workspace.press(lane, velocity));
  const empty = lanes.length === 0;
  useEffect(() => {
    const { current: down } = held;
    return () => {
      for (const [device, pads] of down)
        pads.forEach((lane) => workspace.release({ lane, timeMs: performance.now(), device }));
      down.clear();
    };
  }, [workspace, empty]);
  return { strike, release, press };
}

/** What pointer, touch and keyboard do with a pad that strikes these lanes. */
export function usePadHands(lanes: readonly number[]) {
  const workspace = useWorkspace();
  const { strike, release, press } = useHeldLanes(lanes);
  const up = (event: PointerEvent) => release(event.timeStamp, POINTER_DEVICE);
  const isPress = ({ code }: KeyboardEvent) => code === "Space" || code === "Enter";
  return {
    onPointerDown: (event: PointerEvent) => {
      if (event.button !== 0) return;
      // A finger would stay with its first pad; erasing wipes over several.
      if (event.currentTarget.hasPointerCapture(event.pointerId))
        event.currentTarget.releasePointerCapture(event.pointerId);
      strike(velocityAt(event), event.timeStamp, POINTER_DEVICE);
    },
    onPointerEnter: (event: PointerEvent) => {
      if (event.buttons === 1 && workspace.state.erasing.on) strike(velocityAt(event), event.timeStamp, POINTER_DEVICE);
    },
    onPointerMove: (event: PointerEvent) => {
      if (event.buttons === 1) press(velocityAt(event));
    },
    onPointerUp: up,
    onPointerCancel: up,
    onPointerLeave: up,
    onKeyDown: (event: KeyboardEvent) => {
      if (event.repeat || !isPress(event)) return;
      event.preventDefault();
      strike(workspace.state.settings.keyLevels.level, event.timeStamp, KEYS_DEVICE);
    },
    onKeyUp: (event: KeyboardEvent) => {
      if (isPress(event)) release(event.timeStamp, KEYS_DEVICE);
    },
    // A key that is let go elsewhere is not reported here.
    onBlur: (event: FocusEvent) => release(event.timeStamp, KEYS_DEVICE),
  };
}
