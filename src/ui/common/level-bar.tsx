"use client";

import { useRef } from "react";
import type { MeterReport } from "@/engine/protocol";
import { SILENT_METER } from "@/store/workspace/workspace-state";
import { useFrame, useWorkspace } from "../workspace/use-workspace";
import { fall, levelShare, METER_MS, SILENT_DB } from "./fall";
import styles from "./level-bar.module.scss";

interface LevelBarProps {
  /** Which of the reported amplitudes it shows. */
  readonly peakOf: (meter: MeterReport) => number;
  readonly className?: string | undefined;
}

/** How loud something is: a bar that jumps up with a peak and falls slowly. */
export function LevelBar({ peakOf, className = "" }: LevelBarProps) {
  const workspace = useWorkspace();
  const bar = useRef<HTMLElement>(null);
  const shown = useRef({ meter: SILENT_METER, peak: 0, levelDb: SILENT_DB, atMs: 0 });

  // Past React: a style changes many times a second.
  useFrame((nowMs) => {
    const { meter } = workspace.state;
    const before = shown.current;
    // Reports come more often than is drawn: none may be missed.
    const peak = meter === before.meter ? before.peak : Math.max(before.peak, peakOf(meter));
    const elapsedMs = nowMs - before.atMs;
    if (elapsedMs < METER_MS || (peak === 0 && before.levelDb <= SILENT_DB)) {
      shown.current = { ...before, meter, peak };
      return;
    }
    const levelDb = fall(before.levelDb, peak, elapsedMs);
    shown.current = { meter, peak: 0, levelDb, atMs: nowMs };
    if (bar.current && levelDb !== before.levelDb)
      bar.current.style.clipPath = `inset(0 ${(100 * (1 - levelShare(levelDb))).toFixed(1)}% 0 0)`;
  });

  return (
    <span className={`${styles.track} ${className}`} aria-hidden>
      <i ref={bar} />
    </span>
  );
}
