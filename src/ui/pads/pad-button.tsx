"use client";

import { useEffect, useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Pad } from "@/core/beat/beat";
import { DRUMS } from "@/core/drums";
import { KEY_VELOCITY } from "@/inputs/computer-keys";
import { DrumIcon, familyColor } from "../common/drum-shape";
import { useWorkspace } from "../workspace/use-workspace";
import styles from "./pads.module.scss";

/** One pad: struck by pointer or touch, by its letter anywhere on the page, or by Space or Enter when it has the focus. */
export function PadButton({
  pad,
  letter,
  code,
}: {
  readonly pad: Pad;
  readonly letter: string;
  readonly code: string;
}) {
  const workspace = useWorkspace();
  const flash = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      workspace.onStrike((hit) => {
        if (hit.pad === pad.id) flash.current?.animate([{ opacity: 0.3 + hit.velocity / 181 }, { opacity: 0 }], 240);
      }),
    [workspace, pad.id],
  );

  const down = (event: PointerEvent) => {
    if (event.button !== 0) return;
    workspace.strike({ pad: pad.id, velocity: KEY_VELOCITY, timeMs: event.timeStamp, device: "pointer" });
  };
  const up = (event: PointerEvent) => workspace.release({ pad: pad.id, timeMs: event.timeStamp });
  const press = (event: KeyboardEvent) => {
    if (event.repeat || (event.code !== "Space" && event.code !== "Enter")) return;
    event.preventDefault();
    workspace.strike({ pad: pad.id, velocity: KEY_VELOCITY, timeMs: event.timeStamp, device: "keys" });
  };

  return (
    <button
      type="button"
      className={styles.pad}
      style={{ borderBottomColor: familyColor(DRUMS[pad.drum].family) }}
      aria-label={pad.name}
      aria-keyshortcuts={code.replace(/^Key/, "")}
      onPointerDown={down}
      onPointerUp={up}
      onPointerCancel={up}
      onPointerLeave={up}
      onKeyDown={press}
      onKeyUp={(event) => workspace.release({ pad: pad.id, timeMs: event.timeStamp })}
    >
      <span ref={flash} className={styles.flash} aria-hidden />
      <kbd className={styles.letter}>{letter}</kbd>
      <span className={styles.name}>
        <DrumIcon family={DRUMS[pad.drum].family} size={12} /> {pad.name}
      </span>
    </button>
  );
}
