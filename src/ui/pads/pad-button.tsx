"use client";

import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Pad } from "@/core/beat/beat";
import { KEYS_DEVICE, POINTER_DEVICE } from "@/inputs/played-hit";
import { DrumIcon, familyColor } from "../common/drum-shape";
import { useFlash } from "../common/use-flash";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./pads.module.scss";

/** Velocity at the lower and the upper edge of a pad. */
const SOFTEST = 30;
const HARDEST = 127;

/** The higher a pad is touched, the harder the stroke. */
function velocityAt({ clientY, currentTarget }: PointerEvent): number {
  const { bottom, height } = currentTarget.getBoundingClientRect();
  const share = Math.max(0, Math.min(1, (bottom - clientY) / height));
  return Math.round(SOFTEST + share * (HARDEST - SOFTEST));
}

export interface PadButtonProps {
  readonly pad: Pad;
  /** What is printed on its key; none where it has no key. */
  readonly letter: string;
}

/** One pad: struck by pointer or touch, by its letter anywhere on the page, or by Space or Enter when it has the focus. */
export function PadButton({ pad, letter }: PadButtonProps) {
  const workspace = useWorkspace();
  const erased = useWorkspaceState(({ erasing }) => erasing.pads.includes(pad.id));
  const flash = useRef<HTMLSpanElement>(null);
  useFlash(flash, pad.id);

  const strike = (event: PointerEvent) =>
    workspace.strike({ pad: pad.id, velocity: velocityAt(event), timeMs: event.timeStamp, device: POINTER_DEVICE });
  const down = (event: PointerEvent) => {
    if (event.button !== 0) return;
    // A finger would stay with its first pad; erasing wipes over several.
    if (event.currentTarget.hasPointerCapture(event.pointerId))
      event.currentTarget.releasePointerCapture(event.pointerId);
    strike(event);
  };
  const enter = (event: PointerEvent) => {
    if (event.buttons === 1 && workspace.state.erasing.on) strike(event);
  };
  const move = (event: PointerEvent) => {
    if (event.buttons === 1) workspace.press(pad.id, velocityAt(event));
  };
  const up = (event: PointerEvent) =>
    workspace.release({ pad: pad.id, timeMs: event.timeStamp, device: POINTER_DEVICE });
  const press = (event: KeyboardEvent) => {
    if (event.repeat || (event.code !== "Space" && event.code !== "Enter")) return;
    event.preventDefault();
    const velocity = workspace.state.settings.keyLevels.level;
    workspace.strike({ pad: pad.id, velocity, timeMs: event.timeStamp, device: KEYS_DEVICE });
  };

  return (
    <button
      type="button"
      className={`${styles.pad} ${erased ? styles.erased : ""}`}
      style={{ borderBottomColor: familyColor(pad.family) }}
      aria-label={pad.name}
      aria-keyshortcuts={letter || undefined}
      onPointerDown={down}
      onPointerEnter={enter}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onPointerLeave={up}
      onKeyDown={press}
      onKeyUp={(event) => {
        if (event.code === "Space" || event.code === "Enter")
          workspace.release({ pad: pad.id, timeMs: event.timeStamp, device: KEYS_DEVICE });
      }}
    >
      <span ref={flash} className={styles.flash} aria-hidden />
      <kbd className={styles.letter}>{letter}</kbd>
      <span className={styles.name}>
        <DrumIcon family={pad.family} size={12} /> {pad.name}
      </span>
    </button>
  );
}
