"use client";

import { useEffect, useRef } from "react";
import type { MeterReport } from "@/engine/protocol";
import { useMoving, useWorkspace } from "../../workspace/use-workspace";
import { useThemed } from "../../theme/use-themed";
import { readLevelColours, type LevelColours } from "./level-colours";
import { meterContext } from "./meter-canvas";
import { fall, levelShare, SILENT_DB } from "./fall";
import styles from "./level-bar.module.scss";

/** As many as show a tenth of a decibel; the page stretches them to the bar's width. */
const WIDTH_PX = 480;
const LOUD_FROM = 0.75;
const CLIPPED_FROM = 0.96;

interface LevelBarProps {
  /** Which of the reported amplitudes it shows. */
  readonly peakOf: (meter: MeterReport) => number;
  readonly className?: string | undefined;
}

/** How loud something is: a bar that jumps up with a peak and falls slowly. */
export function LevelBar({ peakOf, className = "" }: LevelBarProps) {
  const { levels } = useWorkspace();
  const bar = useRef<HTMLCanvasElement>(null);
  const colours = useThemed(bar, readLevelColours);
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
    if (bar.current && colours && levelDb !== before) drawBar(bar.current, levelShare(levelDb), colours);
    return levelDb > SILENT_DB;
  });

  return (
    <span className={`${styles.track} ${className}`} aria-hidden>
      <canvas ref={bar} width={WIDTH_PX} height={1} />
    </span>
  );
}

/** Colours keep their places: what is loud is seen by how far the bar goes. */
function drawBar(canvas: HTMLCanvasElement, share: number, { usual, loud, clipped }: LevelColours): void {
  const context = meterContext(canvas);
  context.clearRect(0, 0, WIDTH_PX, 1);
  let from = 0;
  for (const [colour, until] of [
    [usual, LOUD_FROM],
    [loud, CLIPPED_FROM],
    [clipped, 1],
  ] as const) {
    context.fillStyle = colour;
    context.fillRect(from * WIDTH_PX, 0, Math.max(0, Math.min(share, until) - from) * WIDTH_PX, 1);
    from = until;
  }
}
