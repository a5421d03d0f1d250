"use client";

import { useState, type PointerEvent } from "react";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import type { HitMark } from "./lane-layout";

/** So near the pointer means that hit. */
const NEAR_PX = 11;
/** A drag shorter than this is a click. */
const DRAG_PX = 4;

interface Box {
  readonly fromX: number;
  readonly fromY: number;
  readonly x: number;
  readonly y: number;
}

export interface HitRows {
  readonly hits: readonly HitMark[];
  readonly rowOf: ReadonlyMap<number, number>;
  readonly rowPx: number;
}

/** Hits are pointed at, clicked, with Shift added, or chosen with a box. */
export function useHitPointer({ hits, rowOf, rowPx }: HitRows) {
  const workspace = useWorkspace();
  const selected = useWorkspaceState((state) => state.selected);
  const [hovered, setHovered] = useState<number>();
  const [box, setBox] = useState<Box>();
  const down = (event: PointerEvent<HTMLDivElement>) => {
    if (!event.isPrimary) return setBox(undefined);
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus({ preventScroll: true });
    const { offsetX: x, offsetY: y } = event.nativeEvent;
    setBox({ fromX: x, fromY: y, x, y });
  };
  const move = ({ nativeEvent: { offsetX: x, offsetY: y }, isPrimary }: PointerEvent) => {
    if (!isPrimary) return;
    setHovered(nearest({ hits, rowOf, rowPx }, x, y));
    setBox((drawn) => drawn && { ...drawn, x, y });
  };
  const up = (event: PointerEvent) => {
    setBox(undefined);
    if (box) workspace.lanes.select(chosen({ hits, rowOf, rowPx }, box, event.shiftKey ? selected : []));
  };
  const drawn = box && !isClick(box) ? rectangle(box) : undefined;
  return {
    hovered,
    box: drawn,
    handlers: {
      onPointerDown: down,
      onPointerMove: move,
      onPointerUp: up,
      onPointerCancel: () => setBox(undefined),
      onPointerLeave: () => setHovered(undefined),
    },
  };
}

function nearest({ hits, rowOf, rowPx }: HitRows, x: number, y: number): number | undefined {
  const row = Math.floor(y / rowPx);
  let best: HitMark | undefined;
  for (const mark of hits) {
    if (rowOf.get(mark.lane) !== row || Math.abs(mark.x - x) > NEAR_PX) continue;
    // Of equals the newest, which lies on top.
    if (!best || Math.abs(mark.x - x) <= Math.abs(best.x - x)) best = mark;
  }
  return best?.id;
}

function isClick({ fromX, fromY, x, y }: Box): boolean {
  return Math.abs(x - fromX) + Math.abs(y - fromY) < DRAG_PX;
}

function rectangle({ fromX, fromY, x, y }: Box) {
  return { x: Math.min(fromX, x), y: Math.min(fromY, y), width: Math.abs(x - fromX), height: Math.abs(y - fromY) };
}

/** @param before what stays chosen */
function chosen(rows: HitRows, box: Box, before: readonly number[]): readonly number[] {
  if (isClick(box)) {
    const hit = nearest(rows, box.x, box.y);
    if (hit === undefined) return before;
    return before.includes(hit) ? before.filter((id) => id !== hit) : [...before, hit];
  }
  const { x, y, width, height } = rectangle(box);
  const inside = rows.hits.filter((mark) => {
    const middle = ((rows.rowOf.get(mark.lane) ?? 0) + 0.5) * rows.rowPx;
    return mark.x >= x && mark.x <= x + width && middle >= y && middle <= y + height;
  });
  return [...new Set([...before, ...inside.map(({ id }) => id)])];
}
