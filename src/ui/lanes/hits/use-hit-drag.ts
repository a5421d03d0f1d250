"use client";

import { useRef, useState, type PointerEvent } from "react";
import { dragTarget, type HitDrag } from "@/core/editing/drag-hits";
import { lengthText, placeText } from "@/core/editing/hit-rows";
import { resolvedHits } from "@/core/timing/resolve-timing";
import { levelOf } from "@/core/timing/resolved-hit";
import { findPattern } from "@/core/beat/edit";
import { clampVelocity } from "@/core/editing/hand-change";
import { asTicks } from "@/core/time/ticks";
import type { Workspace } from "@/store/workspace/workspace";
import { useWorkspace } from "../../workspace/use-workspace";
import type { HitRows } from "./hit-rows-at";
import { pxPerTick, type HitMark, type LaneScale } from "../picture/lane-layout";

/** What a drag looks like: the chosen hits so far from where they are, and what will become of the one that is held. */
export interface DragPicture {
  readonly dxPx: number;
  readonly rows: number;
  readonly text: string;
  readonly hit: HitMark;
}

export interface DragMove {
  readonly hit: HitMark;
  readonly atEnd: boolean;
  readonly touch: boolean;
  readonly dx: number;
  readonly dy: number;
  readonly event: PointerEvent;
}

interface ActiveDrag {
  readonly kind: "place" | "velocity" | "length";
  readonly picture: DragPicture;
  drop(): void;
}

let gestures = 0;

/**
 * Dragging hits: sideways moves them, and then also to other lanes, pulled to lines unless Shift is held, copies with
 * Control; up and down first makes them louder or softer; the end of a note makes it longer.
 */
export function useHitDrag(rows: HitRows, scale: LaneScale) {
  const workspace = useWorkspace();
  const kind = useRef<ActiveDrag["kind"]>(undefined);
  const going = useRef<ActiveDrag>(undefined);
  const [picture, setPicture] = useState<DragPicture>();
  const show = (next: ActiveDrag | undefined) => {
    going.current = next;
    setPicture(next?.picture);
  };
  const move = (by: DragMove) => {
    // The first way it goes says what it is; a finger that goes up or down scrolls.
    kind.current ??= by.atEnd ? "length" : Math.abs(by.dx) >= Math.abs(by.dy) || by.touch ? "place" : "velocity";
    if (!workspace.state.selected.includes(by.hit.id))
      workspace.lanes.select(by.event.shiftKey ? [...workspace.state.selected, by.hit.id] : [by.hit.id]);
    show({ place: moving, velocity: weighing, length: stretching }[kind.current](workspace, by, rows, scale));
  };
  return {
    picture,
    get going() {
      return going.current !== undefined;
    },
    move,
    drop: () => going.current?.drop(),
    end() {
      kind.current = undefined;
      if (going.current) show(undefined);
    },
  };
}

function heardHit({ state, beat }: Workspace, id: number) {
  return resolvedHits(findPattern(beat, state.patternRef), beat.meter).find(({ hit }) => hit.id === id);
}

function moving(workspace: Workspace, by: DragMove, rows: HitRows, scale: LaneScale): ActiveDrag | undefined {
  const { hit, dx, dy, event } = by;
  const heard = heardHit(workspace, hit.id);
  if (!heard) return undefined;
  const byRows = rowsBy(rows, hit, dy);
  const drag: HitDrag = {
    hitId: hit.id,
    toTicks: asTicks(heard.ticks + dx / pxPerTick(scale)),
    free: event.shiftKey,
    copy: event.ctrlKey || event.metaKey,
    laneOf: laneMover(workspace, rows, hit, byRows),
  };
  const { beat, state } = workspace;
  const target = dragTarget(beat, state.patternRef, drag);
  if (!target) return undefined;
  const off =
    Math.abs(target.offMs) < 0.05
      ? "on the line"
      : `${Math.abs(target.offMs).toFixed(1)} ms ${target.offMs < 0 ? "early" : "late"}`;
  const lane = rows.pads[rows.rowOf.get(hit.lane)! + byRows]?.name;
  const text = [
    placeText(target.ticks, beat.meter),
    off,
    ...(byRows === 0 ? [] : [lane]),
    ...(drag.copy ? ["copy"] : []),
  ];
  return {
    kind: "place",
    picture: { dxPx: target.byTicks * pxPerTick(scale), rows: byRows, text: text.join(" · "), hit },
    drop: () => workspace.hits.drop(drag),
  };
}

/** How many rows down a hit is dragged; not out of the picture. */
function rowsBy({ rowOf, rowPx, pads }: HitRows, { lane }: HitMark, dy: number): number {
  const row = rowOf.get(lane) ?? 0;
  return Math.max(-row, Math.min(pads.length - 1 - row, Math.round(dy / rowPx)));
}

/** Notes keep their distances in semitones, pads in rows. */
function laneMover({ hits }: Workspace, { pads, rowOf }: HitRows, { lane, family }: HitMark, byRows: number) {
  if (byRows === 0) return () => undefined;
  const by = family === "pitch" ? pads[rowOf.get(lane)! + byRows]!.id - lane : -byRows;
  return (one: number) => hits.laneBeside(one, by);
}

function weighing(workspace: Workspace, { hit, dy }: DragMove): ActiveDrag | undefined {
  const heard = heardHit(workspace, hit.id);
  if (!heard) return undefined;
  const by = Math.round(-dy);
  const velocity = clampVelocity(levelOf(heard.hit) + by);
  return {
    kind: "velocity",
    picture: { dxPx: 0, rows: 0, text: `velocity ${velocity} (${by < 0 ? "−" : "+"}${Math.abs(by)})`, hit },
    drop: () => workspace.hits.shiftVelocity(by, `drag ${++gestures}`),
  };
}

function stretching(
  workspace: Workspace,
  { hit, dx, event }: DragMove,
  _: HitRows,
  scale: LaneScale,
): ActiveDrag | undefined {
  const heard = heardHit(workspace, hit.id);
  if (!heard) return undefined;
  const end = asTicks(heard.ticks + heard.lengthTicks + dx / pxPerTick(scale));
  const pulled = event.shiftKey ? end : workspace.hits.lineNear(hit.lane, end);
  const byTicks = Math.max(1, pulled - heard.ticks) - heard.lengthTicks;
  const long = asTicks(heard.lengthTicks + byTicks);
  return {
    kind: "length",
    picture: { dxPx: 0, rows: 0, text: `long ${lengthText(long)}`, hit },
    drop: () => workspace.hits.stretchBy(byTicks, `drag ${++gestures}`),
  };
}
