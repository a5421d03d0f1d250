"use client";

import { useMemo } from "react";
import { toPosition } from "@/core/time/position";
import { useBeat, useOpenPattern, useOpenSpan } from "../../workspace/use-workspace";
import { layoutLines, toX } from "../picture/lane-layout";
import styles from "../picture/lanes.module.scss";
import { RegionHandle } from "./region-handle";
import { useLaneScale } from "../picture/use-lane-scale";
import { useRegionDrag } from "./use-region-drag";
import { ZoomControls } from "./zoom-controls";

/** Beats that lie closer have no number of their own. */
const MIN_LABEL_PX = 44;

/** Bars and beats under the lanes; a drag along it, or its two handles, set the region that goes round. */
export function Ruler({ widthPx }: { readonly widthPx: number }) {
  const span = useOpenSpan();
  const scale = useLaneScale(widthPx);
  const drag = useRegionDrag(scale);
  const end = span.startTicks + span.lengthTicks;
  const left = toX(span.startTicks, scale);
  return (
    <div className={styles.underRow}>
      <ZoomControls scale={scale} />
      <svg className={styles.ruler} width={widthPx} height="23" aria-label="Loop region" {...drag}>
        <title>Drag to loop a stretch; with Shift to the beat; double click for all</title>
        <rect className={styles.loopBand} x={left} width={Math.max(0, toX(end, scale) - left)} height="23" />
        <BarNumbers widthPx={widthPx} />
        <RegionHandle edge="start" ticks={span.startTicks} scale={scale} />
        <RegionHandle edge="end" ticks={end} scale={scale} />
      </svg>
    </div>
  );
}

function BarNumbers({ widthPx }: { readonly widthPx: number }) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const scale = useLaneScale(widthPx);
  const lines = useMemo(() => {
    return layoutLines(beat, pattern, scale, "corrected").filter(({ kind }) => kind !== "step");
  }, [beat, pattern, scale]);
  const [first, second] = lines;
  const spacing = first && second ? second.x - first.x : widthPx;
  return lines
    .filter(({ kind }) => kind === "bar" || spacing > MIN_LABEL_PX)
    .map(({ ticks, x, kind }) => {
      const { bar: number, beat: inBar } = toPosition(ticks, beat.meter);
      return (
        <text
          key={ticks}
          x={kind === "bar" ? x + 14 : x}
          y="16"
          className={kind === "bar" ? styles.barNumber : styles.beatNumber}
        >
          {kind === "bar" ? number : `${number}.${inBar}`}
        </text>
      );
    });
}
