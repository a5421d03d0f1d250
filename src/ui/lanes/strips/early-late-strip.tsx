"use client";

import { useMemo } from "react";
import { ticksToSeconds } from "@/core/time/tempo";
import { asTicks } from "@/core/time/ticks";
import { earlyLate } from "@/core/timing/early-late";
import { useBeat, useOpenPattern } from "../../workspace/use-workspace";
import { toX } from "../picture/lane-layout";
import styles from "../picture/lanes.module.scss";
import { useLaneScale } from "../picture/use-lane-scale";

const HEIGHT = 36;
/** Full height of a bar; a flam begins at about this much (common practice, no source). */
const FULL_MS = 25;

/** For every line, how early (up) or late (down) it was played. */
export function EarlyLateStrip({ widthPx }: { readonly widthPx: number }) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const feel = useMemo(
    () => earlyLate(pattern, beat.meter, beat.inputQuantize),
    [pattern, beat.meter, beat.inputQuantize],
  );
  const scale = useLaneScale(widthPx);
  const ms = feel.map(({ meanTicks }) => ticksToSeconds(asTicks(meanTicks), beat.bpm) * 1000);
  const mean = ms.reduce((sum, value) => sum + value, 0) / (ms.length || 1);
  const description =
    ms.length === 0
      ? "Nothing to compare with the grid"
      : `${Math.abs(mean).toFixed(0)} ms ${mean < 0 ? "early" : "late"} on average`;
  // One outline for all: hundreds of bars change with every stroke.
  const barsOf = (isMeant: (ms: number) => boolean) =>
    feel
      .map(({ line }, index) => ({ line, ms: ms[index]! }))
      .filter(({ line, ms }) => isMeant(ms) && line >= scale.startTicks && line <= scale.startTicks + scale.shownTicks)
      .map(({ line, ms }) => barAt(toX(line, scale), ms))
      .join("");
  return (
    <svg className={styles.strip} width={widthPx} height={HEIGHT} role="img" aria-label={description}>
      <title>{description}</title>
      <text x="3" y="11" className={styles.stripWord}>
        early
      </text>
      <text x="3" y={HEIGHT - 4} className={styles.stripWord}>
        late
      </text>
      <line x1="0" x2={widthPx} y1={HEIGHT / 2} y2={HEIGHT / 2} className={styles.beat} />
      <path className={styles.early} d={barsOf((one) => one < 0)} />
      <path className={styles.late} d={barsOf((one) => one >= 0)} />
    </svg>
  );
}

/** A bar from the middle up or down. */
function barAt(x: number, ms: number): string {
  const offset = (Math.max(-FULL_MS, Math.min(FULL_MS, ms)) / FULL_MS) * (HEIGHT / 2 - 2);
  const top = HEIGHT / 2 + Math.min(0, offset);
  return `M${(x - 3).toFixed(1)} ${top.toFixed(1)}h6v${Math.max(1, Math.abs(offset)).toFixed(1)}h-6z`;
}
