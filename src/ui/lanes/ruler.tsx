"use client";

import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from "react";
import { barTicks, beatTicks } from "@/core/time/meter";
import { formatPosition, toPosition } from "@/core/time/position";
import type { Ticks } from "@/core/time/ticks";
import { useBeat, useOpenPattern, useOpenSpan, useWorkspace } from "../workspace/use-workspace";
import { layoutLines, toTicks, toX } from "./lane-layout";
import styles from "./lanes.module.scss";
import { useLaneScale } from "./use-lane-scale";
import { ZoomControls } from "./zoom-controls";

/** Beats that lie closer have no number of their own. */
const MIN_LABEL_PX = 44;
/** A click that hardly moves is no drag. */
const DRAG_PX = 5;

/** Bars and beats under the lanes; a drag along it, or its two handles, set the region that goes round. */
export function Ruler({ widthPx }: { readonly widthPx: number }) {
  const workspace = useWorkspace();
  const beat = useBeat();
  const pattern = useOpenPattern();
  const span = useOpenSpan();
  const scale = useLaneScale(widthPx);
  const from = useRef<number>(undefined);
  const lines = useMemo(() => {
    return layoutLines(beat, pattern, scale, "corrected").filter(({ kind }) => kind !== "step");
  }, [beat, pattern, scale]);
  const { lengthTicks } = scale;
  const spacing = lines.length > 1 ? lines[1]!.x - lines[0]!.x : widthPx;
  const bar = barTicks(beat.meter);
  // Bars where there are several; beats in a pattern of one bar, or with Shift.
  const snapTo = (fine: boolean) => (fine || pattern.bars === 1 ? beatTicks(beat.meter) : bar);

  const drag = (event: PointerEvent<SVGSVGElement>) => {
    const start = from.current;
    const { offsetX } = event.nativeEvent;
    if (start === undefined || Math.abs(offsetX - start) < DRAG_PX) return;
    const step = snapTo(event.shiftKey);
    const [left, right] = [start, offsetX].sort((a, b) => a - b).map((x) => toTicks(x, scale));
    workspace.patterns.loopBetween(Math.floor(left! / step) * step, Math.ceil(right! / step) * step);
  };
  const down = (event: PointerEvent<SVGSVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = event.nativeEvent.offsetX;
  };
  const end = span.startTicks + span.lengthTicks;
  const nudge = (edge: "start" | "end") => (event: KeyboardEvent) => {
    const direction = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (event.key === "Delete") workspace.patterns.setRegion(undefined);
    if (!direction) return;
    event.preventDefault();
    workspace.patterns.moveEdge(edge, direction * snapTo(event.shiftKey));
  };
  const handle = (edge: "start" | "end", ticks: number) => (
    <rect
      className={styles.handle}
      x={toX(ticks, scale) - (edge === "start" ? 0 : 6)}
      width="6"
      height="20"
      rx="2"
      role="slider"
      tabIndex={0}
      aria-label={`Loop ${edge}`}
      aria-valuemin={0}
      aria-valuemax={lengthTicks}
      aria-valuenow={ticks}
      aria-valuetext={formatPosition(ticks as Ticks, beat.meter)}
      onKeyDown={nudge(edge)}
    />
  );
  return (
    <div className={styles.underRow}>
      <ZoomControls scale={scale} />
      <svg
        className={styles.ruler}
        width={widthPx}
        height="20"
        aria-label="Loop region"
        onPointerDown={down}
        onPointerMove={drag}
        onPointerUp={() => (from.current = undefined)}
        onPointerCancel={() => (from.current = undefined)}
        onDoubleClick={() => workspace.patterns.setRegion(undefined)}
      >
        <title>Drag to loop a stretch; with Shift to the beat; double click for all</title>
        <rect
          className={styles.loopBand}
          x={toX(span.startTicks, scale)}
          width={Math.max(0, toX(end, scale) - toX(span.startTicks, scale))}
          height="20"
        />
        {lines
          .filter(({ kind }) => kind === "bar" || spacing > MIN_LABEL_PX)
          .map(({ ticks, x, kind }) => {
            const { bar: number, beat: inBar } = toPosition(ticks, beat.meter);
            return (
              <text
                key={ticks}
                x={kind === "bar" ? x + 14 : x}
                y="14"
                className={kind === "bar" ? styles.barNumber : styles.beatNumber}
              >
                {kind === "bar" ? number : `${number}.${inBar}`}
              </text>
            );
          })}
        {handle("start", span.startTicks)}
        {handle("end", end)}
      </svg>
    </div>
  );
}
