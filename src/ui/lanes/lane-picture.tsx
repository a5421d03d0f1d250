"use client";

import { memo, useMemo } from "react";
import type { Pad } from "@/core/beat/beat";
import { DrumMark } from "../common/drum-shape";
import { useBeat, useOpenPattern } from "../workspace/use-workspace";
import { layoutHits, layoutLines, type HitMark, type LineMark } from "./lane-layout";
import styles from "./lanes.module.scss";

/** Of a lane's height, how much the hardest hit's radius takes. */
const RADIUS_SHARE = 0.36;

export interface LanePictureProps {
  readonly pads: readonly Pad[];
  readonly widthPx: number;
  readonly heightPx: number;
}

/** Lines, pockets and hits of all lanes. */
export function LanePicture({ pads, widthPx, heightPx }: LanePictureProps) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const marks = useMemo(() => layoutHits(beat, pads, pattern, widthPx), [beat, pads, pattern, widthPx]);
  const lines = useMemo(() => layoutLines(beat, pattern, widthPx), [beat, pattern, widthPx]);
  const rowOf = useMemo(() => new Map(pads.map(({ id }, row) => [id, row])), [pads]);
  const solo = pads.some(({ soloed }) => soloed);
  const silent = new Set(pads.filter(({ muted, soloed }) => (solo ? !soloed : muted)).map(({ id }) => id));
  const count = marks.length;
  const rowPx = heightPx / pads.length;
  return (
    <svg
      className={styles.picture}
      viewBox={`0 0 ${widthPx} ${heightPx}`}
      role="img"
      aria-label={`${count} ${count === 1 ? "hit" : "hits"} in ${pattern.bars} ${pattern.bars === 1 ? "bar" : "bars"}`}
    >
      <Lines lines={lines} height={heightPx} />
      {pads.map(({ id }, row) => (
        <line key={id} className={styles.rowLine} x1="0" x2={widthPx} y1={(row + 1) * rowPx} y2={(row + 1) * rowPx} />
      ))}
      {marks.map((mark) => (
        <Hit
          key={mark.id}
          mark={mark}
          y={((rowOf.get(mark.padId) ?? 0) + 0.5) * rowPx}
          rowPx={rowPx}
          silent={silent.has(mark.padId)}
        />
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

interface HitProps {
  readonly mark: HitMark;
  readonly y: number;
  readonly rowPx: number;
  readonly silent: boolean;
}

const Hit = memo(
  function Hit({ mark, y, rowPx, silent }: HitProps) {
    const { x, playedX, size, strength, covered, family } = mark;
    return (
      <g data-hit={mark.id}>
        <DrumMark
          family={family}
          x={x}
          y={y}
          radius={size * rowPx * RADIUS_SHARE}
          strength={strength}
          hollow={silent || covered}
        />
        {Math.abs(playedX - x) > 0.5 && (
          <path className={styles.whisker} d={`M${x},${y}H${playedX}m0,${-0.44 * rowPx}v${0.88 * rowPx}`} />
        )}
      </g>
    );
  },
  (a, b) => a.y === b.y && a.rowPx === b.rowPx && a.silent === b.silent && sameMark(a.mark, b.mark),
);

function sameMark(a: HitMark, b: HitMark): boolean {
  return (Object.keys(a) as (keyof HitMark)[]).every((key) => a[key] === b[key]);
}
