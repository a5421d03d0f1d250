import type { Part, PatternRef } from "@/core/beat/beat";
import { wholeSpan } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import { compileEvents } from "@/core/playback/compile-events";
import type { EventTable } from "@/core/sound/player/event-table";
import type { LoopSpan } from "@/core/time/loop-span";
import { resolvedHits } from "@/core/timing/resolve-timing";
import { spanOf, type WorkspaceState } from "../state/workspace-state";
import type { TableSource } from "./sent-tables";

/** Makes the tables of parts, and knows from which lap on playback has a hit that was heard when it was struck. */
export class PartTables {
  private readonly soundsFrom = new Map<number, { readonly segment: number; readonly lap: number }>();
  /** By pattern, the stretch of its last table. */
  private readonly spans = new Map<number, LoopSpan>();

  /** A hit that was heard when it was struck; playback has it from that lap of that run on. */
  heardFrom(hitId: number, segment: number, lap: number): void {
    this.soundsFrom.set(hitId, { segment, lap });
  }

  /** What was struck before is fresh no more. */
  forgetFresh(): void {
    this.soundsFrom.clear();
  }

  /** Another audio thread has had no table. */
  forgetSpans(): void {
    this.spans.clear();
  }

  /** What a pattern plays from a run on; an echo may be heard in a beat of its own. */
  compile(state: WorkspaceState, patternRef: PatternRef, segment: number): EventTable {
    const { preview, tapped, timingView, recordings, history, transport } = state;
    const shown = history.present;
    const heard = preview?.patternRef.patternId === patternRef.patternId ? preview.beat : shown;
    const span = heard === shown ? spanOf(state, patternRef) : wholeSpan(findPattern(heard, patternRef), heard.meter);
    this.followSpan(patternRef.patternId, span);
    const beat = tapped && transport.running ? { ...heard, bpm: tapped.bpm } : heard;
    const recordingPassId = recordings[patternRef.partId]?.passId;
    const fresh = { segment, soundsFrom: this.soundsFrom };
    return compileEvents(beat, patternRef, { span, fresh, timingView, ...(recordingPassId && { recordingPassId }) });
  }

  /** In another stretch the laps are counted anew, and what was fresh in the old one is fresh no more. */
  private followSpan(patternId: number, span: LoopSpan): void {
    const before = this.spans.get(patternId);
    if (before && (before.startTicks !== span.startTicks || before.lengthTicks !== span.lengthTicks))
      this.forgetFresh();
    this.spans.set(patternId, span);
  }
}

/**
 * What the tables of a part are made of.
 * @param places the patterns that it plays and goes on with. @param runs the runs of these
 */
export function tableSource(
  { history, timingView, tapped, regions, preview, recordings }: WorkspaceState,
  part: Part,
  places: readonly PatternRef[],
  runs: readonly number[],
): TableSource {
  const { bpm, meter, inputQuantize } = history.present;
  const patterns = places.flatMap((patternRef) => part.patterns.filter(({ id }) => id === patternRef.patternId));
  const ofPatterns = patterns.flatMap(({ id, bars, swing, groove, padAmounts, silentLanes }) => [
    ...[id, bars, swing, groove, padAmounts, silentLanes],
  ]);
  const set = [timingView, tapped?.bpm, regions, bpm, meter, inputQuantize.grid, preview, recordings[part.id]?.passId];
  return {
    madeOf: [part.alsoPlays, ...ofPatterns, ...runs, ...set],
    hits: patterns.map((pattern) => resolvedHits(pattern, meter, timingView)),
  };
}
