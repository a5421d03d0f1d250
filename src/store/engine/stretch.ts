import type { StrokeSegment } from "@/core/record/placed-stroke";
import { asTicks, type Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import { spanOf, type WorkspaceState } from "../state/workspace-state";
import type { NextSegment } from "./part-anchors";

/** What is audible at a moment. */
export interface Audible {
  /** From the first downbeat; negative in the count-in. */
  readonly ticks: Ticks;
  readonly anchor: TransportAnchor;
}

/** A stretch of transport in one pattern, and where in it something was. */
export interface Stretch extends Omit<StrokeSegment, "timingView"> {
  readonly ticks: Ticks;
}

/** The stretch that was audible, and the one that follows it, where the audio thread has said when that will be. */
export interface Stretches {
  readonly now: Stretch;
  readonly next: Stretch | undefined;
}

/** What is known of the run that an anchor is in: whether the transport began with it, and what followed it. */
interface KnownSegment {
  readonly opens: boolean;
  readonly next: NextSegment | undefined;
}

/** Where a stroke that was made at a moment may belong, from the first downbeat of either stretch. */
export function stretchesAt(state: WorkspaceState, { ticks, anchor }: Audible, known: KnownSegment): Stretches {
  const { segment, partId, patternId, span, bpm } = anchor;
  const change = changeAfter(state, anchor, known.next);
  return {
    now: { segment, patternRef: { partId, patternId }, span, bpm, opens: known.opens, ticks },
    next: change && { ...change, bpm, opens: false, ticks: asTicks(ticks - change.atTicks) },
  };
}

interface Change extends Pick<Stretch, "segment" | "patternRef" | "span"> {
  readonly atTicks: Ticks;
}

/** The change of patterns that a stretch of transport ends with. */
function changeAfter(
  state: WorkspaceState,
  anchor: TransportAnchor,
  next: NextSegment | undefined,
): Change | undefined {
  const { partId } = anchor;
  if (next) {
    const { ticks, segment, patternId, span } = next.anchor;
    return ticks === 0 ? { segment, patternRef: { partId, patternId }, span, atTicks: next.atTicks } : undefined;
  }
  const queued = state.queued[partId];
  if (queued?.at?.inSegment !== anchor.segment) return undefined;
  return {
    segment: queued.segment,
    patternRef: queued.patternRef,
    span: spanOf(state, queued.patternRef),
    atTicks: queued.at.atTicks,
  };
}
