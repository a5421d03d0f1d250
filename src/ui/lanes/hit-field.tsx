"use client";

import { useMemo, useRef, type KeyboardEvent, type RefObject } from "react";
import { findPattern } from "@/core/beat/edit";
import type { LaneInfo } from "@/core/beat/lanes";
import { cachedHeard } from "@/core/timing/heard";
import { useAdvice } from "../timing/use-advice";
import { useBeat, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { readHit } from "./hit-readout";
import type { HitMark, LaneScale } from "./lane-layout";
import styles from "./lanes.module.scss";
import { stepToHit } from "./step-to-hit";
import { useHitPointer } from "./use-hit-pointer";
import { usePinch } from "./use-pinch";

const MAX_RINGS = 400;

export interface HitFieldProps {
  readonly pads: readonly LaneInfo[];
  readonly hits: readonly HitMark[];
  readonly scale: LaneScale;
  readonly heightPx: number;
}

/** Hits to point at, to step through and to select; the wheel and two fingers look closer. */
export function HitField({ pads, hits, scale, heightPx }: HitFieldProps) {
  const selected = useWorkspaceState((state) => state.selected);
  const advice = useAdvice();
  const field = useRef<HTMLDivElement>(null);
  const rowOf = useMemo(() => new Map(pads.map(({ id }, row) => [id, row])), [pads]);
  const rowPx = heightPx / pads.length;
  const focus = selected.at(-1);
  usePinch(field);
  const press = useHitKeys(field, rowOf);

  const yOf = ({ lane }: HitMark) => ((rowOf.get(lane) ?? 0) + 0.5) * rowPx;
  const { hovered, box, handlers } = useHitPointer({ hits, rowOf, rowPx });
  const shownId = hovered ?? focus;
  const shown = shownId === undefined ? undefined : hits.find(({ id }) => id === shownId);
  const chosen = new Set(selected);
  const lit = new Set(advice ? [...advice.pulled, ...advice.collisions] : []);
  const anyRing = chosen.size > 0 || lit.size > 0;
  const ringed = anyRing ? hits.filter(({ id }) => chosen.has(id) || lit.has(id)).slice(-MAX_RINGS) : [];
  return (
    <div
      ref={field}
      className={styles.hitField}
      role="application"
      aria-roledescription="hits"
      aria-label="Hits: arrow keys step through them, Escape leaves"
      tabIndex={0}
      {...handlers}
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
        {box && <rect className={styles.selectBox} {...box} />}
      </svg>
      {shown && (
        <Readout hitId={shown.id} x={shown.x} y={yOf(shown)} {...{ widthPx: scale.widthPx, heightPx, rowPx }} />
      )}
      <span className="visually-hidden" role="status">
        {focus !== undefined && hovered === undefined && shown && <HitText hitId={shown.id} />}
      </span>
    </div>
  );
}

/** What a hit is, in words. */
function HitText({ hitId }: { readonly hitId: number }) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const monitoring = useWorkspaceState((state) => state.monitoring);
  return readHit(beat, pattern, hitId, monitoring);
}

interface ReadoutProps {
  readonly hitId: number;
  readonly x: number;
  readonly y: number;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly rowPx: number;
}

/** What a hit is, beside it, where there is room. */
function Readout({ hitId, x, y, widthPx, heightPx, rowPx }: ReadoutProps) {
  const top = y + (y < heightPx / 2 ? 0.6 * rowPx : -0.6 * rowPx - 24);
  const side = x < widthPx / 2 ? { left: x } : { right: widthPx - x };
  return (
    <div className={styles.readout} style={{ top, ...side }}>
      <HitText hitId={hitId} />
    </div>
  );
}

/** Arrow keys step from hit to hit, Escape leaves. */
function useHitKeys(field: RefObject<HTMLDivElement | null>, rowOf: ReadonlyMap<number, number>) {
  const workspace = useWorkspace();
  return (event: KeyboardEvent) => {
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
    const { selected, history, place, monitoring } = workspace.state;
    const heard = cachedHeard(findPattern(history.present, place), history.present.meter, monitoring);
    const next = stepToHit(event.key, selected.at(-1), heard, rowOf);
    if (!next) return;
    workspace.lanes.select([next.hit.id]);
    workspace.lanes.reveal(next.ticks);
  };
}
