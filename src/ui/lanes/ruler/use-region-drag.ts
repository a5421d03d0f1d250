"use client";

import { useRef, type PointerEvent } from "react";
import { barTicks, beatTicks, type Meter } from "@/core/time/meter";
import { useOfBeat, useOfPattern, useWorkspace } from "../../workspace/use-workspace";
import { toTicks, type LaneScale } from "../picture/lane-layout";

/** A click that hardly moves is no drag. */
const DRAG_PX = 5;

/** What a region's ends go by: bars where there are several; beats in a pattern of one bar, or with Shift. */
export function regionStep(meter: Meter, bars: number, fine: boolean): number {
  return fine || bars === 1 ? beatTicks(meter) : barTicks(meter);
}

/** Draws the region that goes round along the ruler; a double click takes it away. */
export function useRegionDrag(scale: LaneScale) {
  const { patterns } = useWorkspace();
  const meter = useOfBeat((beat) => beat.meter);
  const bars = useOfPattern((pattern) => pattern.bars);
  const from = useRef<number>(undefined);
  const drop = () => (from.current = undefined);
  return {
    onPointerDown: (event: PointerEvent<SVGSVGElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      from.current = event.nativeEvent.offsetX;
    },
    onPointerMove: (event: PointerEvent<SVGSVGElement>) => {
      const start = from.current;
      const { offsetX } = event.nativeEvent;
      if (start === undefined || Math.abs(offsetX - start) < DRAG_PX) return;
      const step = regionStep(meter, bars, event.shiftKey);
      const left = toTicks(Math.min(start, offsetX), scale);
      const right = toTicks(Math.max(start, offsetX), scale);
      patterns.loopBetween(Math.floor(left / step) * step, Math.ceil(right / step) * step);
    },
    onPointerUp: drop,
    onPointerCancel: drop,
    onDoubleClick: () => patterns.setRegion(undefined),
  };
}
