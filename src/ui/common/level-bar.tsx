"use client";

import { useEffect, useRef } from "react";
import type { MeterReport } from "@/engine/protocol";
import { useMoving, useWorkspace } from "../workspace/use-workspace";
import { fall, levelShare, SILENT_DB } from "./fall";
import styles from "./level-bar.module.scss";

interface LevelBarProps {
  /** Which of the reported amplitudes it shows. */
  readonly peakOf: (meter: MeterReport) => number;
  readonly className?: string | undefined;
}

/** How loud something is: a bar that jumps up with a peak and falls slowly. */
export function LevelBar({ peakOf, className = "" }: LevelBarProps) {
  const { levels } = useWorkspace();
  const bar = useRef<HTMLElement>(null);
  const shown = useRef({ peak: 0, levelDb: SILENT_DB, atMs: 0 });

  useEffect(
    () =>
      // Reports come more often than is drawn: none may be missed.
      levels.onChange(() => (shown.current.peak = Math.max(shown.current.peak, peakOf(levels.latest)))),
    [levels, peakOf],
  );
  // Past React: a style changes many times a second.
  useMoving((nowMs) => {
    const { peak, levelDb: before, atMs } = shown.current;
    const levelDb = fall(before, peak, nowMs - atMs);
    shown.current = { peak: 0, levelDb, atMs: nowMs };
    if (bar.current && levelDb !== before)
      bar.current.style.clipPath = `inset(0 ${(100 * (1 - levelShare(levelDb))).toFixed(1)}% 0 0)`;
    return levelDb > SILENT_DB;
  });

  return (
    <span className={`${styles.track} ${className}`} aria-hidden>
      <i ref={bar} />
    </span>
  );
}
