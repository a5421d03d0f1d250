"use client";

import { useMemo, useRef, useState, type PointerEvent } from "react";
import { clampVelocity } from "@/core/editing/hand-change";
import { rampVelocity } from "@/core/editing/weigh-hits";
import { findPattern } from "@/core/beat/edit";
import { hitsWhere } from "@/core/editing/choose-hits";
import { asTicks } from "@/core/time/ticks";
import { resolvedHits } from "@/core/timing/resolve-timing";
import { levelOf } from "@/core/timing/resolved-hit";
import type { Workspace } from "@/store/workspace/workspace";
import { useBeat, useOpenPattern, useWorkspace, useWorkspaceState } from "../../workspace/use-workspace";
import { pxPerTick, toTicks, toX, type LaneScale } from "../picture/lane-layout";
import styles from "../picture/lanes.module.scss";
import { useLaneScale } from "../picture/use-lane-scale";

const VELOCITY_STRIP_PX = 64;
/** So near a bar the pointer draws it. */
const NEAR_PX = 5;

interface Point {
  readonly x: number;
  readonly y: number;
}

let gestures = 0;

/**
 * How hard each hit is, as bars to draw across; with Shift a straight line from where it is begun to where it is let go.
 * It draws on the chosen hits only, if there are any; else on the lane of the first bar it touches.
 */
export default function VelocityStrip({ widthPx }: { readonly widthPx: number }) {
  const scale = useLaneScale(widthPx);
  const { line, handlers } = useVelocityPen(scale);
  const bars = useBars(scale);
  return (
    <svg
      className={styles.velocityStrip}
      width={widthPx}
      height={VELOCITY_STRIP_PX}
      role="img"
      aria-label="Velocities of the hits; they can be typed in the bar below"
      {...handlers}
    >
      {[32, 64, 96].map((velocity) => (
        <line key={velocity} x1="0" x2={widthPx} y1={toY(velocity)} y2={toY(velocity)} className={styles.level} />
      ))}
      <path className={styles.velocityBar} d={bars.others} />
      <path className={styles.velocityChosen} d={bars.chosen} />
      {line && <line x1={line[0].x} y1={line[0].y} x2={line[1].x} y2={line[1].y} className={styles.ramp} />}
    </svg>
  );
}

function toY(velocity: number): number {
  return VELOCITY_STRIP_PX - 2 - (velocity / 127) * (VELOCITY_STRIP_PX - 6);
}

function toVelocity(y: number): number {
  return clampVelocity(((VELOCITY_STRIP_PX - 2 - y) / (VELOCITY_STRIP_PX - 6)) * 127);
}

/** One outline for all bars, and one for those that are chosen. */
function useBars(scale: LaneScale) {
  const { meter } = useBeat();
  const pattern = useOpenPattern();
  const selected = useWorkspaceState((state) => state.selected);
  return useMemo(() => {
    const ids = new Set(selected);
    const paths = { chosen: "", others: "" };
    for (const { hit, ticks } of resolvedHits(pattern, meter)) {
      const x = toX(ticks, scale);
      if (x < 0 || x > scale.widthPx) continue;
      const y = toY(levelOf(hit));
      paths[ids.has(hit.id) ? "chosen" : "others"] +=
        `M${(x - 1.5).toFixed(1)} ${VELOCITY_STRIP_PX}V${y.toFixed(1)}h3V${VELOCITY_STRIP_PX}z`;
    }
    return paths;
  }, [pattern, meter, selected, scale]);
}

/** The lane of the bar that somebody points at: of those that stand together, the one whose top is nearest. */
function laneAt({ beat, state }: Workspace, scale: LaneScale, { x, y }: Point): number | undefined {
  const near = resolvedHits(findPattern(beat, state.patternRef), beat.meter)
    .filter(({ ticks }) => Math.abs(toX(ticks, scale) - x) <= NEAR_PX)
    .map(({ hit }) => ({ lane: hit.lane, away: Math.abs(toY(levelOf(hit)) - y) }));
  return near.sort((a, b) => a.away - b.away)[0]?.lane;
}

/** Drawing velocities with the pointer; one gesture is one step of undo. */
function useVelocityPen(scale: LaneScale) {
  const workspace = useWorkspace();
  const from = useRef<Point>(undefined);
  const lane = useRef<number>(undefined);
  const gesture = useRef("");
  const [line, setLine] = useState<readonly [Point, Point]>();
  const draw = (a: Point, b: Point, slackPx: number) => {
    const [left, right] = a.x <= b.x ? [a, b] : [b, a];
    const slack = slackPx / pxPerTick(scale);
    const start = { ticks: asTicks(toTicks(left.x, scale) - slack), velocity: toVelocity(left.y) };
    const end = { ticks: asTicks(toTicks(right.x, scale) + slack), velocity: toVelocity(right.y) };
    const { selected, patternRef } = workspace.state;
    if (selected.length === 0) lane.current ??= laneAt(workspace, scale, a);
    const lanes = new Set(lane.current === undefined ? [] : [lane.current]);
    const ids = new Set(selected.length > 0 ? selected : hitsWhere(workspace.beat, patternRef, { lanes }));
    if (ids.size === 0) return;
    workspace.hits.apply(
      "Velocity of",
      (beat, at, own) => rampVelocity(beat, at, own, start, end),
      ids,
      gesture.current,
    );
  };
  const pointOf = ({ nativeEvent: { offsetX: x, offsetY: y } }: PointerEvent) => ({ x, y });
  return {
    line,
    handlers: {
      onPointerDown(event: PointerEvent<SVGSVGElement>) {
        if (workspace.state.readOnly || !event.isPrimary) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        gesture.current = `velocities ${++gestures}`;
        lane.current = undefined;
        from.current = pointOf(event);
        if (!event.shiftKey) draw(from.current, from.current, NEAR_PX);
        else setLine([from.current, from.current]);
      },
      onPointerMove(event: PointerEvent) {
        if (!from.current) return;
        const to = pointOf(event);
        if (line) return setLine([line[0], to]);
        draw(from.current, to, NEAR_PX);
        from.current = to;
      },
      onPointerUp() {
        if (line) draw(line[0], line[1], 0);
        from.current = undefined;
        setLine(undefined);
      },
      onPointerCancel() {
        from.current = undefined;
        setLine(undefined);
      },
    },
  };
}
