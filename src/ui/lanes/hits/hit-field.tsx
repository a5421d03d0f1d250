"use client";

import { useMemo, useRef, useState, type KeyboardEvent, type RefObject } from "react";
import { findPattern } from "@/core/beat/edit";
import type { LaneInfo } from "@/core/beat/lanes";
import { resolvedHits } from "@/core/timing/resolve-timing";
import { useAdvice } from "../../timing/use-advice";
import { useWorkspace, useWorkspaceState } from "../../workspace/use-workspace";
import { HitText, Readout } from "./hit-readout";
import type { HitRows } from "./hit-rows-at";
import type { HitMark, LaneScale } from "../picture/lane-layout";
import styles from "../picture/lanes.module.scss";
import { RingPicture } from "../picture/ring-picture";
import { stepToHit } from "./step-to-hit";
import { useHitPointer } from "./use-hit-pointer";
import { usePinch } from "./use-pinch";
import { lazyView } from "../../common/lazy-view";

const HitMenu = lazyView(() => import("./hit-menu"));

/** Advice may be about thousands; so many show what it means. */
const MAX_LIT = 400;
const NOTHING: readonly HitMark[] = [];

export interface HitFieldProps {
  readonly pads: readonly LaneInfo[];
  readonly hits: readonly HitMark[];
  readonly scale: LaneScale;
  readonly heightPx: number;
}

/** Hits to point at, to step through, to choose, to drag and to write; the wheel and two fingers look closer. */
export function HitField({ pads, hits, scale, heightPx }: HitFieldProps) {
  const workspace = useWorkspace();
  const field = useRef<HTMLDivElement>(null);
  const rowOf = useMemo(() => new Map(pads.map(({ id }, row) => [id, row])), [pads]);
  const rowPx = heightPx / pads.length;
  const rows: HitRows = { pads, hits, rowOf, rowPx };
  const rings = useRings(hits);
  const [asked, setAsked] = useState<HitMark>();
  usePinch(field);
  const press = useHitKeys(field, rowOf);
  const { pointer, handlers } = useHitPointer(rows, scale, (hit) => {
    if (!workspace.state.selected.includes(hit.id)) workspace.lanes.select([hit.id]);
    setAsked(hit);
  });
  const { hovered, box, drag } = pointer;
  const yOf = ({ lane }: HitMark) => ((rowOf.get(lane) ?? 0) + 0.5) * rowPx;
  const focus = rings.focus;
  const shown = hovered ?? hits.find(({ id }) => id === focus);
  const room = { rowPx, widthPx: scale.widthPx, heightPx };
  return (
    <>
      <div
        ref={field}
        className={`${styles.hitField} ${hovered ? styles.onHit : ""}`}
        role="application"
        aria-roledescription="hits"
        aria-label="Hits: arrow keys step through them, Control with arrow keys moves them, Delete deletes, Escape leaves"
        tabIndex={0}
        {...handlers}
        onKeyDown={press}
      >
        <RingPicture {...rings} rowOf={rowOf} {...room} />
        {drag && (drag.dxPx !== 0 || drag.rows !== 0) && (
          <RingPicture
            {...rings}
            rowOf={rowOf}
            {...room}
            className={styles.ghost!}
            style={{ transform: `translate(${drag.dxPx}px, ${drag.rows * rowPx}px)` }}
          />
        )}
        {box && (
          <div className={styles.selectBox} style={{ left: box.x, top: box.y, width: box.width, height: box.height }} />
        )}
        {drag ? (
          <Readout x={drag.hit.x + drag.dxPx} y={yOf(drag.hit) + drag.rows * rowPx} {...room}>
            {drag.text}
          </Readout>
        ) : (
          shown &&
          !asked && (
            <Readout x={shown.x} y={yOf(shown)} {...room}>
              <HitText hitId={shown.id} />
            </Readout>
          )
        )}
        <span className="visually-hidden" role="status">
          {focus !== undefined && hovered === undefined && shown && <HitText hitId={shown.id} />}
        </span>
      </div>
      {asked && <HitMenu x={asked.x} y={yOf(asked)} onDone={() => (setAsked(undefined), field.current?.focus())} />}
    </>
  );
}

/** Which hits have a ring: those that are chosen, those that the advice is about, and those that an undo or redo brought. */
function useRings(hits: readonly HitMark[]) {
  const selected = useWorkspaceState((state) => state.selected);
  const advice = useAdvice();
  const marked = useWorkspaceState((state) => state.marked);
  const chosen = useMemo(() => {
    if (selected.length === 0) return NOTHING;
    const ids = new Set(selected);
    return hits.filter(({ id }) => ids.has(id));
  }, [hits, selected]);
  const lit = useMemo(() => {
    if (!advice && marked.length === 0) return NOTHING;
    const ids = new Set([...(advice?.moved ?? []), ...marked]);
    return hits.filter(({ id }) => ids.has(id)).slice(-MAX_LIT);
  }, [hits, advice, marked]);
  return { chosen, lit, focus: selected.at(-1) };
}

/** Arrow keys step from hit to hit, Escape leaves. */
function useHitKeys(field: RefObject<HTMLDivElement | null>, rowOf: ReadonlyMap<number, number>) {
  const workspace = useWorkspace();
  return (event: KeyboardEvent) => {
    if (event.target !== field.current) return;
    if (event.key === "Escape") {
      workspace.lanes.select([]);
      field.current?.blur();
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || event.shiftKey || !event.key.startsWith("Arrow")) return;
    if (workspace.state.step.on) return;
    // Without this the arrow keys would also step through grids and grooves.
    event.preventDefault();
    event.stopPropagation();
    // From the hit that is meant now: two keys may come within one picture.
    const { selected, history, patternRef, timingView } = workspace.state;
    const heard = resolvedHits(findPattern(history.present, patternRef), history.present.meter, timingView);
    const next = stepToHit(event.key, selected.at(-1), heard, rowOf);
    if (!next) return;
    workspace.lanes.select([next.hit.id]);
    workspace.lanes.reveal(next.ticks);
  };
}
