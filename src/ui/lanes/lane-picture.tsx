"use client";

import { memo, useMemo } from "react";
import type { Pad } from "@/core/beat/beat";
import { DrumMark } from "../common/drum-shape";
import { useBeat, useOpenPattern } from "../workspace/use-workspace";
import { layoutHits, layoutLines, type HitMark, type LineMark } from "./lane-layout";
import styles from "./lanes.module.scss";

/** Rows are counted in units of 100, and the picture is stretched to the rows' real height. */
const ROW = 26;

/** Lines, pockets and hits of all lanes. */
export function LanePicture({ pads, widthPx }: { readonly pads: readonly Pad[]; readonly widthPx: number }) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const marks = useMemo(() => layoutHits(beat, pads, pattern, widthPx), [beat, pads, pattern, widthPx]);
  const lines = useMemo(() => layoutLines(beat, pattern, widthPx), [beat, pattern, widthPx]);
  const rowOf = useMemo(() => new Map(pads.map(({ id }, row) => [id, row])), [pads]);
  const solo = pads.some(({ soloed }) => soloed);
  const silent = new Set(pads.filter(({ muted, soloed }) => (solo ? !soloed : muted)).map(({ id }) => id));
  const count = marks.length;
  return (
    <svg
      className={styles.picture}
      viewBox={`0 0 ${widthPx} ${pads.length * ROW}`}
      preserveAspectRatio="none"
      role="img"
      aria-label={`${count} ${count === 1 ? "hit" : "hits"} in ${pattern.bars} ${pattern.bars === 1 ? "bar" : "bars"}`}
    >
      <Lines lines={lines} height={pads.length * ROW} />
      {pads.map(({ id }, row) => (
        <line key={id} className={styles.rowLine} x1="0" x2={widthPx} y1={(row + 1) * ROW} y2={(row + 1) * ROW} />
      ))}
      {marks.map((mark) => (
        <Hit key={mark.id} mark={mark} y={((rowOf.get(mark.padId) ?? 0) + 0.5) * ROW} silent={silent.has(mark.padId)} />
      ))}
    </svg>
  );
}

const Lines = memo(function Lines({ lines, height }: { readonly lines: readonly LineMark[]; readonly height: number }) {
  return lines.map(({ ticks, x, kind, pocketPx }) => (
    <g key={ticks}>
      <rect className={styles.pocket} x={x - pocketPx} width={2 * pocketPx} y="0" height={height} />
      <line className={styles[kind]} x1={x} x2={x} y1="0" y2={height} />
    </g>
  ));
});

const Hit = memo(
  function Hit({ mark, y, silent }: { readonly mark: HitMark; readonly y: number; readonly silent: boolean }) {
    const { x, playedX, size, strength, covered, family } = mark;
    return (
      <g opacity={silent || covered ? 0.22 : strength} data-hit={mark.id}>
        {Math.abs(playedX - x) > 0.5 && <path className={styles.whisker} d={`M${x},${y}H${playedX}m0,-5v10`} />}
        <DrumMark family={family} x={x} y={y} radius={size * ROW * 0.36} />
      </g>
    );
  },
  (a, b) => a.y === b.y && a.silent === b.silent && sameMark(a.mark, b.mark),
);

function sameMark(a: HitMark, b: HitMark): boolean {
  return (Object.keys(a) as (keyof HitMark)[]).every((key) => a[key] === b[key]);
}
