import type { Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import { anchorTicksAt } from "@/core/time/transport-anchor";

/** Anchors kept a part: a hit's audible moment lies a little before the newest one may have begun. */
const ANCHORS_KEPT = 8;

/** A run that followed another one of the same part, and where in the positions of that one. */
export interface NextSegment {
  readonly anchor: TransportAnchor;
  readonly atTicks: Ticks;
}

/** Where the audio thread said that its parts are, the newest last. */
export class PartAnchors {
  private anchors: readonly TransportAnchor[] = [];

  /** Another start: what was said before is old. */
  reset(...anchors: readonly TransportAnchor[]): void {
    this.anchors = anchors;
  }

  /** What is said of a moment that is known already replaces it. */
  add(anchor: TransportAnchor): void {
    const own = [...this.of(anchor.partId).filter((known) => !sameMoment(known, anchor)), anchor];
    const others = this.anchors.filter(({ partId }) => partId !== anchor.partId);
    this.anchors = [...others, ...own.slice(-ANCHORS_KEPT)];
  }

  /** The stretch that a part was in at a frame; before the oldest one that is known, that one. */
  at(partId: number, frame: number): TransportAnchor | undefined {
    const own = this.of(partId);
    return own.findLast((candidate) => candidate.frame <= frame) ?? own[0];
  }

  /** Where a part is now. */
  now(partId: number): TransportAnchor | undefined {
    return this.of(partId).at(-1);
  }

  /** The stretch of transport that a run of a part is in: parts that began together are in the same run. */
  ofSegment(partId: number, segment: number): TransportAnchor | undefined {
    return this.of(partId).findLast((anchor) => anchor.segment === segment);
  }

  /** The run in which a pattern is, or was last. */
  segmentOf(patternId: number): number | undefined {
    return this.anchors.findLast((anchor) => anchor.patternId === patternId)?.segment;
  }

  /** The run that followed the one of an anchor, where one has. */
  after(anchor: TransportAnchor, sampleRate: number): NextSegment | undefined {
    const own = this.of(anchor.partId);
    const index = own.findIndex((later, at) => at > own.indexOf(anchor) && later.segment !== anchor.segment);
    const next = own[index];
    return next && { anchor: next, atTicks: anchorTicksAt(own[index - 1]!, next.frame, sampleRate) };
  }

  private of(partId: number): readonly TransportAnchor[] {
    return this.anchors.filter((anchor) => anchor.partId === partId);
  }
}

function sameMoment(a: TransportAnchor, b: TransportAnchor): boolean {
  return a.segment === b.segment && a.ticks === b.ticks && Math.abs(a.frame - b.frame) < 1;
}
