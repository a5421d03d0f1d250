"use client";

import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Pad } from "@/core/beat/beat";
import { heardOnce } from "@/core/timing/heard";
import { useAdvice } from "../timing/use-advice";
import { useBeat, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { readHit } from "./hit-readout";
import { toShare, type HitMark, type LaneScale } from "./lane-layout";
import styles from "./lanes.module.scss";

/** So near the pointer means that hit. */
const NEAR_PX = 11;
/** A drag shorter than this is a click. */
const DRAG_PX = 4;
const MAX_RINGS = 400;
const WHEEL_ZOOM = 1.0025;

export interface HitFieldProps {
  readonly pads: readonly Pad[];
  readonly hits: readonly HitMark[];
  readonly scale: LaneScale;
  readonly heightPx: number;
}

interface Box {
  readonly fromX: number;
  readonly fromY: number;
  readonly x: number;
  readonly y: number;
}

/** Hits to point at, to step through and to select; the wheel and two fingers look closer. */
export function HitField({ pads, hits, scale, heightPx }: HitFieldProps) {
  const workspace = useWorkspace();
  const beat = useBeat();
  const pattern = useOpenPattern();
  const hearing = useWorkspaceState((state) => state.hearing);
  const selected = useWorkspaceState((state) => state.selected);
  const advice = useAdvice();
  const field = useRef<HTMLDivElement>(null);
  const [hovered, setHovered] = useState<number>();
  const [box, setBox] = useState<Box>();
  const rowOf = useMemo(() => new Map(pads.map(({ id }, row) => [id, row])), [pads]);
  const rowPx = heightPx / pads.length;
  const focus = selected.at(-1);
  usePinch(field);

  const yOf = ({ padId }: HitMark) => ((rowOf.get(padId) ?? 0) + 0.5) * rowPx;
  const nearest = (x: number, y: number): number | undefined => {
    const row = Math.floor(y / rowPx);
    let best: HitMark | undefined;
    for (const mark of hits) {
      if (rowOf.get(mark.padId) !== row || Math.abs(mark.x - x) > NEAR_PX) continue;
      // Of equals the newest, which lies on top.
      if (!best || Math.abs(mark.x - x) <= Math.abs(best.x - x)) best = mark;
    }
    return best?.id;
  };
  const down = (event: PointerEvent<HTMLDivElement>) => {
    if (!event.isPrimary) return setBox(undefined);
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus({ preventScroll: true });
    const { offsetX: x, offsetY: y } = event.nativeEvent;
    setBox({ fromX: x, fromY: y, x, y });
  };
  const move = ({ nativeEvent: { offsetX: x, offsetY: y }, isPrimary }: PointerEvent) => {
    if (!isPrimary) return;
    setHovered(nearest(x, y));
    setBox((drawn) => drawn && { ...drawn, x, y });
  };
  const up = (event: PointerEvent) => {
    setBox(undefined);
    if (!box) return;
    const before = event.shiftKey ? selected : [];
    if (Math.abs(box.x - box.fromX) + Math.abs(box.y - box.fromY) < DRAG_PX) {
      const hit = nearest(box.x, box.y);
      if (hit === undefined) return workspace.lanes.select(before);
      return workspace.lanes.select(before.includes(hit) ? before.filter((id) => id !== hit) : [...before, hit]);
    }
    const [left, right] = [box.fromX, box.x].sort((a, b) => a - b);
    const [top, bottom] = [box.fromY, box.y].sort((a, b) => a - b);
    const inside = hits.filter((mark) => mark.x >= left && mark.x <= right && yOf(mark) >= top && yOf(mark) <= bottom);
    workspace.lanes.select([...new Set([...before, ...inside.map(({ id }) => id)])]);
  };
  const press = (event: KeyboardEvent) => {
    if (event.key === "Escape") {
      workspace.lanes.select([]);
      field.current?.blur();
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || event.shiftKey || !event.key.startsWith("Arrow")) return;
    // Without this the arrow keys would also step through grids and grooves.
    event.preventDefault();
    event.stopPropagation();
    // From the hit that is meant now: two keys may come within one picture.
    const from = workspace.state.selected.at(-1);
    const next = stepTo(event.key, from, heardOnce(pattern, beat.meter, hearing), rowOf);
    if (!next) return;
    workspace.lanes.select([next.hit.id]);
    workspace.lanes.reveal(next.ticks);
  };

  const shownId = hovered ?? focus;
  const shown = hits.find(({ id }) => id === shownId);
  const text = shown && readHit(beat, pattern, shown.id, hearing);
  const chosen = new Set(selected);
  const lit = new Set(advice ? [...advice.pulled, ...advice.collisions] : []);
  const ringed = hits.filter(({ id }) => chosen.has(id) || lit.has(id)).slice(-MAX_RINGS);
  return (
    <div
      ref={field}
      className={styles.hitField}
      role="application"
      aria-roledescription="hits"
      aria-label="Hits: arrow keys step through them, Escape leaves"
      tabIndex={0}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => setBox(undefined)}
      onPointerLeave={() => setHovered(undefined)}
      onKeyDown={press}
    >
      <svg className={styles.rings} aria-hidden>
        {ringed.map((mark) => (
          <circle
            key={mark.id}
            cx={mark.x}
            cy={yOf(mark)}
            r={0.3 * rowPx + 4 * mark.size}
            className={mark.id === focus ? styles.focusRing : chosen.has(mark.id) ? styles.ring : styles.litRing}
          />
        ))}
        {box && Math.abs(box.x - box.fromX) > DRAG_PX && (
          <rect
            className={styles.selectBox}
            x={Math.min(box.fromX, box.x)}
            y={Math.min(box.fromY, box.y)}
            width={Math.abs(box.x - box.fromX)}
            height={Math.abs(box.y - box.fromY)}
          />
        )}
      </svg>
      {shown && text && (
        <div
          className={styles.readout}
          style={{
            top: yOf(shown) + (yOf(shown) < heightPx / 2 ? 0.6 * rowPx : -0.6 * rowPx - 24),
            ...(shown.x < scale.widthPx / 2 ? { left: shown.x } : { right: scale.widthPx - shown.x }),
          }}
        >
          {text}
        </div>
      )}
      <span className="visually-hidden" role="status">
        {focus !== undefined && hovered === undefined ? text : ""}
      </span>
    </div>
  );
}

type Heard = ReturnType<typeof heardOnce>[number];

/** The hit beside the one that has the focus: in its lane, or the nearest in the next lane with hits. */
function stepTo(
  key: string,
  focus: number | undefined,
  all: readonly Heard[],
  rowOf: ReadonlyMap<number, number>,
): Heard | undefined {
  const inTime = all.toSorted((a, b) => a.ticks - b.ticks || a.hit.id - b.hit.id);
  const from = all.find(({ hit }) => hit.id === focus);
  if (!from) return inTime[0];
  if (key === "ArrowLeft" || key === "ArrowRight") {
    const lane = inTime.filter(({ hit }) => hit.pad === from.hit.pad);
    const index = lane.indexOf(from) + (key === "ArrowRight" ? 1 : -1);
    return lane[(index + lane.length) % lane.length];
  }
  const by = key === "ArrowDown" ? 1 : -1;
  const row = (heard: Heard) => rowOf.get(heard.hit.pad) ?? 0;
  const beyond = all.filter((heard) => (row(heard) - row(from)) * by > 0);
  const nextRow = beyond.reduce((best, heard) => (by * row(heard) < by * best ? row(heard) : best), by * Infinity);
  return beyond
    .filter((heard) => row(heard) === nextRow)
    .sort((a, b) => Math.abs(a.ticks - from.ticks) - Math.abs(b.ticks - from.ticks))[0];
}

/** Control and the wheel (which is also what a pinch on a touch pad is), the wheel sideways, and two fingers. */
function usePinch(field: React.RefObject<HTMLDivElement | null>) {
  const { lanes } = useWorkspace();
  useEffect(() => {
    const element = field.current!;
    const fingers = new Map<number, number>();
    const zoomBy = (factor: number, x: number) => lanes.zoomAt(factor, toShare(x, element.clientWidth));
    const wheel = (event: WheelEvent) => {
      const sideways = event.shiftKey ? event.deltaY : event.deltaX;
      if (event.ctrlKey) zoomBy(WHEEL_ZOOM ** event.deltaY, event.offsetX);
      else if (sideways !== 0) lanes.pan(sideways / 800);
      else return;
      event.preventDefault();
    };
    const place = ({ clientX }: globalThis.PointerEvent) => clientX - element.getBoundingClientRect().left;
    const down = (event: globalThis.PointerEvent) =>
      event.pointerType === "touch" && fingers.set(event.pointerId, place(event));
    const move = (event: globalThis.PointerEvent) => {
      if (!fingers.has(event.pointerId)) return;
      const apart = () => Math.abs([...fingers.values()].reduce((a, b) => a - b));
      const before = fingers.size === 2 ? apart() : 0;
      fingers.set(event.pointerId, place(event));
      if (fingers.size !== 2 || before < 1 || apart() < 1) return;
      const [a, b] = [...fingers.values()];
      zoomBy(before / apart(), (a + b) / 2);
    };
    const up = (event: globalThis.PointerEvent) => fingers.delete(event.pointerId);
    // React's own wheel listener is passive and could not keep the page from zooming.
    element.addEventListener("wheel", wheel, { passive: false });
    element.addEventListener("pointerdown", down);
    element.addEventListener("pointermove", move);
    element.addEventListener("pointerup", up);
    element.addEventListener("pointercancel", up);
    return () => {
      element.removeEventListener("wheel", wheel);
      element.removeEventListener("pointerdown", down);
      element.removeEventListener("pointermove", move);
      element.removeEventListener("pointerup", up);
      element.removeEventListener("pointercancel", up);
    };
  }, [field, lanes]);
}
