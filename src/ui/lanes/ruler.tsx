"use client";

import { useMemo } from "react";
import { toPosition } from "@/core/time/position";
import { useBeat, useOpenPattern } from "../workspace/use-workspace";
import { layoutLines } from "./lane-layout";
import styles from "./lanes.module.scss";

/** Bars and beats under the lanes. */
export function Ruler({ widthPx }: { readonly widthPx: number }) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const lines = useMemo(
    () => layoutLines(beat, pattern, widthPx).filter(({ kind }) => kind !== "step"),
    [beat, pattern, widthPx],
  );
  const spacing = lines.length > 1 ? lines[1].x - lines[0].x : widthPx;
  return (
    <div className={styles.underRow} aria-hidden>
      <span className={styles.underName}>bar.beat</span>
      <svg className={styles.ruler} width={widthPx} height="20">
        {lines
          .filter(({ kind }) => kind === "bar" || spacing > 26)
          .map(({ ticks, x, kind }) => {
            const { bar, beat: number } = toPosition(ticks, beat.meter);
            return (
              <text key={ticks} x={x} y="14" className={kind === "bar" ? styles.barNumber : styles.beatNumber}>
                {kind === "bar" ? bar : `${bar}.${number}`}
              </text>
            );
          })}
      </svg>
    </div>
  );
}
