"use client";

import { useRef, useState, type MouseEvent, type PointerEvent, type TouchEvent } from "react";
import { useWorkspace } from "../../workspace/use-workspace";
import { hitNear, HIT_END_PX, rowAt, type HitRows } from "./hit-rows-at";
import { useHitDrag, type DragPicture } from "./use-hit-drag";
import { toTicks, type HitMark, type LaneScale } from "../picture/lane-layout";

/** A drag shorter than this is a click. */
const DRAG_PX = 4;
/** A finger that stays so long asks what can be done with a hit. */
const LONG_PRESS_MS = 500;

interface Press {
  readonly x: number;
  readonly y: number;
  readonly hit: HitMark | undefined;
  /** It is held at the end of a note. */
  readonly atEnd: boolean;
  readonly touch: boolean;
  /** What is written while it lasts is one step of undo. */
  readonly gesture: string;
}

let presses = 0;

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface HitPointer {
  readonly hovered: HitMark | undefined;
  readonly box: Box | undefined;
  readonly drag: DragPicture | undefined;
}

/**
 * Hits are pointed at, clicked, with Shift or Control added, chosen with a box, dragged, and written or rubbed out with a
 * double click or along a lane with Alt. @param onMenu a hit is asked what can be done with it
 */
export function useHitPointer(rows: HitRows, scale: LaneScale, onMenu: (hit: HitMark) => void) {
  const workspace = useWorkspace();
  const [hovered, setHovered] = useState<HitMark>();
  const [box, setBox] = useState<Box>();
  const press = useRef<Press>(undefined);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const wrote = useRef<number>(undefined);
  /** The finger that is down has opened a menu. */
  const stayed = useRef(false);
  const drag = useHitDrag(rows, scale);

  const end = () => {
    clearTimeout(timer.current);
    press.current = undefined;
    wrote.current = undefined;
    setBox(undefined);
    drag.end();
  };
  const down = (event: PointerEvent<HTMLDivElement>) => {
    if (!event.isPrimary || event.button !== 0) return end();
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus({ preventScroll: true });
    const { offsetX: x, offsetY: y } = event.nativeEvent;
    const touch = event.pointerType === "touch";
    const hit = hitNear(rows, x, y, touch);
    const atEnd = hit?.endX !== undefined && x >= Math.max(hit.endX - HIT_END_PX, hit.x + HIT_END_PX);
    press.current = { x, y, hit, atEnd, touch, gesture: `write ${++presses}` };
    stayed.current = false;
    if (touch && hit) timer.current = setTimeout(() => ((stayed.current = true), end(), onMenu(hit)), LONG_PRESS_MS);
  };
  const move = (event: PointerEvent) => {
    if (!event.isPrimary) return;
    const { offsetX: x, offsetY: y } = event.nativeEvent;
    const from = press.current;
    if (!from) return setHovered(hitNear(rows, x, y, event.pointerType === "touch"));
    const [dx, dy] = [x - from.x, y - from.y];
    if (!drag.going && !box && Math.abs(dx) + Math.abs(dy) < DRAG_PX) return;
    clearTimeout(timer.current);
    if (event.altKey && !from.hit) return writeAlong(from, x);
    if (from.hit) drag.move({ hit: from.hit, atEnd: from.atEnd, touch: from.touch, dx, dy, event });
    else setBox({ x: Math.min(x, from.x), y: Math.min(y, from.y), width: Math.abs(dx), height: Math.abs(dy) });
  };
  const up = (event: PointerEvent) => {
    const from = press.current;
    if (from && drag.going) drag.drop();
    else if (from && box) workspace.lanes.select(inBox(rows, box, isAdding(event) ? workspace.state.selected : []));
    else if (from && wrote.current === undefined) click(from, event);
    end();
  };

  /** Hits on every line that is gone past, in the lane where it began. */
  const writeAlong = (from: Press, x: number) => {
    const pad = rows.pads[rowAt(rows, from.y)];
    const line = pad && workspace.hits.lineAt(pad.id, toTicks(x, scale));
    if (line === undefined || line === wrote.current) return;
    wrote.current = line;
    workspace.hits.write(pad!.id, toTicks(x, scale), from.gesture);
  };
  const click = ({ hit }: Press, event: PointerEvent) => {
    const { selected } = workspace.state;
    if (!hit) return workspace.lanes.select(isAdding(event) ? selected : []);
    if (!isAdding(event)) return workspace.lanes.select([hit.id]);
    workspace.lanes.select(selected.includes(hit.id) ? selected.filter((id) => id !== hit.id) : [...selected, hit.id]);
  };
  const doubleClick = ({ nativeEvent: { offsetX: x, offsetY: y } }: MouseEvent) => {
    const pad = rows.pads[rowAt(rows, y)];
    if (pad) workspace.hits.writeOrRub(pad.id, toTicks(x, scale), hitNear(rows, x, y, false)?.id);
  };
  const menu = (event: MouseEvent) => {
    const { offsetX: x, offsetY: y } = event.nativeEvent;
    // The menu key means the hit that has the focus, wherever the pointer is.
    const focus = rows.hits.find(({ id }) => id === workspace.state.selected.at(-1));
    const hit = event.button === 2 ? hitNear(rows, x, y, false) : focus;
    if (!hit) return;
    event.preventDefault();
    onMenu(hit);
  };
  return {
    pointer: { hovered, box, drag: drag.picture } satisfies HitPointer,
    handlers: {
      onPointerDown: down,
      onPointerMove: move,
      onPointerUp: up,
      onPointerCancel: end,
      onPointerLeave: () => setHovered(undefined),
      // Else the browser would make a click of it, which closes the menu.
      onTouchEnd: (event: TouchEvent) => stayed.current && event.preventDefault(),
      onDoubleClick: doubleClick,
      onContextMenu: menu,
    },
  };
}

function isAdding({ shiftKey, ctrlKey, metaKey }: PointerEvent): boolean {
  return shiftKey || ctrlKey || metaKey;
}

/** @param before what stays chosen */
function inBox({ hits, rowOf, rowPx }: HitRows, { x, y, width, height }: Box, before: readonly number[]) {
  const inside = hits.filter((mark) => {
    const middle = ((rowOf.get(mark.lane) ?? 0) + 0.5) * rowPx;
    return mark.x >= x && mark.x <= x + width && middle >= y && middle <= y + height;
  });
  return [...new Set([...before, ...inside.map(({ id }) => id)])];
}
