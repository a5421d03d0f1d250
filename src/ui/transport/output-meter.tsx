"use client";

import { useRef } from "react";
import { SILENT_METER } from "@/store/workspace-state";
import { useFrame, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

const FLOOR_DB = -48;
/** How fast a shown peak falls. */
const FALL_DB_PER_MS = 0.05;

function shownShare(peakDb: number): number {
  return Math.max(0, Math.min(1, 1 - peakDb / FLOOR_DB));
}

/** Peak of both sides, with a warning that stays once the limiter had to work. */
export function OutputMeter() {
  const workspace = useWorkspace();
  const limitedOnce = useWorkspaceState((state) => state.limitedOnce);
  const latencyMs = useWorkspaceState((state) => state.outputLatencyMs);
  const left = useRef<HTMLElement>(null);
  const right = useRef<HTMLElement>(null);
  const shown = useRef({ meter: SILENT_METER, levels: [FLOOR_DB, FLOOR_DB], atMs: 0 });

  // Past React: two styles change with every picture.
  useFrame((nowMs) => {
    const { meter } = workspace.state;
    const { meter: before, levels, atMs } = shown.current;
    if (meter === before && levels[0]! <= FLOOR_DB && levels[1]! <= FLOOR_DB) return;
    const peaks = meter === before ? [0, 0] : [meter.peakLeft, meter.peakRight];
    const next = peaks.map((peak, side) =>
      Math.max(20 * Math.log10(peak + 1e-6), levels[side]! - (nowMs - atMs) * FALL_DB_PER_MS, FLOOR_DB),
    );
    [left, right].forEach((bar, side) => {
      if (bar.current) bar.current.style.clipPath = `inset(0 ${(100 * (1 - shownShare(next[side]!))).toFixed(1)}% 0 0)`;
    });
    shown.current = { meter, levels: next, atMs: nowMs };
  });

  return (
    <div className={styles.meter} role="group" aria-label="Output">
      <span className={styles.bars} aria-hidden>
        <span>
          <i ref={left} />
        </span>
        <span>
          <i ref={right} />
        </span>
      </span>
      {limitedOnce ? (
        <button type="button" className={styles.clipped} onClick={() => workspace.forgetLimited()}>
          Too loud
        </button>
      ) : (
        <span className="numerals" title="Output delay; hits are placed where you heard them">
          {latencyMs.toFixed(0)} ms
        </span>
      )}
    </div>
  );
}
