"use client";

import type { KeyboardEvent } from "react";
import { formatPosition } from "@/core/time/position";
import { asTicks } from "@/core/time/ticks";
import { useOfBeat, useOfPattern, useWorkspace } from "../../workspace/use-workspace";
import { toX, type LaneScale } from "../picture/lane-layout";
import styles from "../picture/lanes.module.scss";
import { regionStep } from "./use-region-drag";

interface RegionHandleProps {
  readonly edge: "start" | "end";
  readonly ticks: number;
  readonly scale: LaneScale;
}

/** One end of the region that goes round, moved by keys. */
export function RegionHandle({ edge, ticks, scale }: RegionHandleProps) {
  const { patterns } = useWorkspace();
  const meter = useOfBeat((beat) => beat.meter);
  const bars = useOfPattern((pattern) => pattern.bars);
  const nudge = (event: KeyboardEvent) => {
    const direction = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (event.key === "Delete") patterns.setRegion(undefined);
    if (!direction) return;
    event.preventDefault();
    patterns.moveEdge(edge, direction * regionStep(meter, bars, event.shiftKey));
  };
  return (
    <rect
      className={styles.handle}
      x={toX(ticks, scale) - (edge === "start" ? 0 : 6)}
      width="6"
      height="23"
      rx="2"
      role="slider"
      tabIndex={0}
      aria-label={`Loop ${edge}`}
      aria-valuemin={0}
      aria-valuemax={scale.lengthTicks}
      aria-valuenow={ticks}
      aria-valuetext={formatPosition(asTicks(ticks), meter)}
      onKeyDown={nudge}
    />
  );
}
