"use client";

import { useDeferredValue, useEffect, useMemo, useRef } from "react";
import { otherOfPair } from "@/core/beat/edits/alternate";
import type { LaneInfo } from "@/core/beat/lanes";
import { patternDifference, type PatternDifference } from "@/core/editing/pattern-difference";
import type { ResolvedHit } from "@/core/timing/resolved-hit";
import { OUTLINES } from "../../common/drum-shape";
import { useThemed } from "../../theme/use-themed";
import { useOfBeat, useOpenPart, useOpenPattern } from "../../workspace/use-workspace";
import { fitCanvas } from "../picture/fit-canvas";
import { toX, type LaneScale } from "../picture/lane-layout";
import styles from "./vary.module.scss";

export interface DifferencePictureProps {
  readonly pads: readonly LaneInfo[];
  readonly scale: LaneScale;
  readonly heightPx: number;
}

const readInks = (element: Element) => {
  const style = getComputedStyle(element);
  return { ink: style.getPropertyValue("--ink").trim(), paper: style.getPropertyValue("--paper").trim() };
};

/**
 * What an alternate has that its original has not, over the lanes: a plus at what was added, broken outlines where hits are
 * gone, and from where hits were moved an arrow.
 */
export default function DifferencePicture({ pads, scale, heightPx }: DifferencePictureProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const inks = useThemed(canvas, readInks);
  const difference = useDifference();
  useEffect(() => {
    if (!inks) return;
    const context = canvas.current!.getContext("2d")!;
    fitCanvas(canvas.current!, scale.widthPx, heightPx);
    context.clearRect(0, 0, scale.widthPx, heightPx);
    if (difference) paintDifference({ context, pads, scale, rowPx: heightPx / pads.length, ...inks }, difference);
  }, [difference, pads, scale, heightPx, inks]);
  return <canvas ref={canvas} className={styles.picture} aria-hidden />;
}

/** Of the open alternate; while it is recorded it follows when there is time. */
function useDifference(): PatternDifference | undefined {
  const meter = useOfBeat((beat) => beat.meter);
  const part = useDeferredValue(useOpenPart());
  const { id } = useOpenPattern();
  return useMemo(() => {
    const alternate = part.patterns.find((one) => one.id === id);
    const original = alternate && otherOfPair(part, alternate);
    return original && patternDifference(original, alternate, meter);
  }, [part, id, meter]);
}

interface Brush {
  readonly context: CanvasRenderingContext2D;
  readonly pads: readonly LaneInfo[];
  readonly scale: LaneScale;
  readonly rowPx: number;
  readonly ink: string;
  readonly paper: string;
}

const ARM_PX = 3.5;
/** Nearer than this an arrow would be a blot on the hit. */
const LEAST_ARROW_PX = 10;

function paintDifference(brush: Brush, { added, gone, moved }: PatternDifference): void {
  const { context, ink } = brush;
  context.strokeStyle = context.fillStyle = ink;
  for (const one of gone) paintGone(brush, one);
  for (const { from, to } of moved) paintMoved(brush, from, to);
  for (const one of added) paintAdded(brush, one);
}

function placeOf({ pads, scale, rowPx }: Brush, { hit, ticks }: ResolvedHit) {
  const row = pads.findIndex(({ id }) => id === hit.lane);
  return { x: toX(ticks, scale), y: (row + 0.5) * rowPx, family: pads[row]?.family };
}

/** Where it was, as a broken outline. */
function paintGone(brush: Brush, one: ResolvedHit): void {
  const { context, rowPx } = brush;
  const { x, y, family } = placeOf(brush, one);
  if (!family) return;
  const radius = 0.32 * rowPx;
  context.save();
  context.translate(x, y);
  context.scale(radius, radius);
  context.lineWidth = 1.5 / radius;
  context.setLineDash([2.5 / radius, 2 / radius]);
  context.stroke(new Path2D(OUTLINES[family]));
  context.restore();
}

function paintMoved(brush: Brush, from: ResolvedHit, to: ResolvedHit): void {
  const { context } = brush;
  const [start, end] = [placeOf(brush, from), placeOf(brush, to)];
  if (!start.family || !end.family) return;
  paintGone(brush, from);
  const angle = Math.atan2(end.y - start.y, end.x - start.x);
  const away = (turn: number) => [end.x - 7 * Math.cos(angle + turn), end.y - 7 * Math.sin(angle + turn)] as const;
  if (Math.hypot(end.x - start.x, end.y - start.y) < LEAST_ARROW_PX) return;
  context.lineWidth = 1.75;
  context.beginPath();
  context.moveTo(start.x, start.y);
  context.lineTo(end.x, end.y);
  for (const turn of [0.5, -0.5]) {
    context.moveTo(end.x, end.y);
    context.lineTo(...away(turn));
  }
  context.stroke();
}

/** A plus at its shoulder, on a disc of paper, so that it is seen on any colour. */
function paintAdded(brush: Brush, one: ResolvedHit): void {
  const { context, rowPx, ink, paper } = brush;
  const { x, y, family } = placeOf(brush, one);
  if (!family) return;
  const [left, top] = [x + 0.34 * rowPx, y - 0.26 * rowPx];
  context.fillStyle = paper;
  context.beginPath();
  context.arc(left, top, ARM_PX + 1.5, 0, 2 * Math.PI);
  context.fill();
  context.fillStyle = ink;
  context.fillRect(left - ARM_PX, top - 0.8, 2 * ARM_PX, 1.6);
  context.fillRect(left - 0.8, top - ARM_PX, 1.6, 2 * ARM_PX);
}
