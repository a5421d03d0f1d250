import { wholeSpan, type Lane, type PatternRef } from "@/core/beat/beat";
import { findPart, findPattern } from "@/core/beat/edit";
import {
  addPattern,
  duplicatePattern,
  nextEmptyPattern,
  removePattern,
  type AddedPattern,
} from "@/core/beat/edits/pattern-edit";
import {
  addAlternate,
  keepOfPair,
  otherOfPair,
  patternPlaces,
  setSilentLanes,
  type PatternPlace,
} from "@/core/beat/edits/alternate";
import type { FillLength } from "@/core/editing/fill";
import { CoreError } from "@/core/core-error";
import type { QueuedChange, SwitchMoment } from "@/core/sound/player/track";
import type { LoopSpan } from "@/core/time/loop-span";
import { asTicks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import type { BeatDocument } from "../document/beat-document";
import type { Playback } from "./playback";
import { Controller, type WorkspaceStore } from "../state/controller";
import { openQueued, placeOf, spanOf, type QueuedPattern } from "../state/workspace-state";

/** What was looked at belongs to the pattern that was open. */
const FRESH_VIEW = { zoom: undefined, selected: [] } as const;

/** How a pattern takes over while the loop runs. */
interface Takeover {
  /** The part whose lap ends then; the pattern's own where it is left out. */
  readonly lapOf?: number | undefined;
  readonly moment?: SwitchMoment;
}

/** The patterns of the open part: which one plays, which one is next, and the stretch that goes round. */
export class PatternSegment extends Controller {
  /** Each fill is another one than the one before. */
  private fills = 0;

  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
    private readonly document: BeatDocument,
  ) {
    super(store);
  }

  /** Calls up the pattern of a place, from 0; while the loop runs it takes over when the settings say. */
  choose(index: number): void {
    const { partId } = this.state.patternRef;
    const pattern = patternPlaces(findPart(this.beat, partId))[index]?.original;
    if (!pattern) return this.set({ notice: `Place ${index + 1} is empty. 0 makes the next pattern.` });
    if (this.state.settings.patternsTogether) this.chooseOfAll(index);
    else this.goTo({ partId, patternId: pattern.id });
  }

  /** The same for a pattern or its alternate; from one of a pair to the other at once. */
  chooseHalf(index: number, half: keyof PatternPlace): void {
    const { patternRef } = this.state;
    const part = findPart(this.beat, patternRef.partId);
    const wanted = patternPlaces(part)[index]?.[half];
    if (wanted && wanted === otherOfPair(part, findPattern(this.beat, patternRef))) this.swap();
    else if (half === "original") this.choose(index);
    else if (wanted) this.goTo({ ...patternRef, patternId: wanted.id });
  }

  /** All parts that have a pattern there change at the same moment: no loop is cut short that ends with the longest. */
  private chooseOfAll(index: number): void {
    const changing = this.beat.parts.flatMap((part): readonly PatternRef[] => {
      const pattern = patternPlaces(part)[index]?.original;
      return pattern && !this.isThere(part.id, pattern.id) ? [{ partId: part.id, patternId: pattern.id }] : [];
    });
    const lengths = changing.map(({ partId }) => spanOf(this.state, placeOf(this.state, partId)).lengthTicks);
    const lapOf = changing[lengths.indexOf(asTicks(Math.max(...lengths)))]?.partId;
    for (const patternRef of changing) this.goTo(patternRef, { lapOf });
  }

  /** The next pattern without hits, made if there is none, like the one that is open; recording goes on in it. */
  nextEmpty(): void {
    const from = openQueued(this.state)?.patternRef ?? this.state.patternRef;
    const ready = nextEmptyPattern(this.beat, from);
    if (ready) this.goTo(ready);
    else this.grow("New pattern", () => addPattern(this.beat, from));
  }

  duplicate(): void {
    this.grow("Duplicate pattern", () => duplicatePattern(this.beat, this.state.patternRef));
  }

  /** To the alternate of the open pattern and back, in the middle of the lap; where there is none yet it is made. */
  swap(): void {
    const { patternRef } = this.state;
    this.set({ strip: "vary" });
    const other = otherOfPair(findPart(this.beat, patternRef.partId), findPattern(this.beat, patternRef));
    if (other) this.goTo({ ...patternRef, patternId: other.id }, { moment: "now" });
    else this.grow("Make an alternate", () => addAlternate(this.beat, patternRef), "now");
  }

  /** Writes a fill into the last bar, in the alternate, which is made if there is none: the original stays as it is. */
  async fill(length: FillLength): Promise<void> {
    const { writeFill } = await import("@/core/editing/fill");
    const { patternRef } = this.state;
    this.grow(
      "Fill",
      () => {
        const shown = findPattern(this.beat, patternRef);
        const target =
          shown.alternateOf === undefined ? addAlternate(this.beat, patternRef) : { beat: this.beat, patternRef };
        return {
          beat: writeFill(target.beat, target.patternRef, length, this.fills++).beat,
          patternRef: target.patternRef,
        };
      },
      "now",
    );
  }

  /** Lets a lane be silent in the open pattern, or sound again; what lies on it stays. */
  toggleSilent(lane: Lane): void {
    const { silentLanes = [] } = findPattern(this.beat, this.state.patternRef);
    const silent = silentLanes.includes(lane);
    const lanes = silent ? silentLanes.filter((one) => one !== lane) : [...silentLanes, lane];
    const label = silent ? "Let a lane sound" : "Silence a lane";
    this.document.edit(setSilentLanes(this.beat, this.state.patternRef, lanes), label);
  }

  /** Of the open pattern and its alternate this one stays. */
  keepThis(): void {
    this.document.edit(keepOfPair(this.beat, this.state.patternRef), "Keep one of a pair");
  }

  remove(): void {
    if (findPart(this.beat, this.state.patternRef.partId).patterns.length > 1)
      this.document.edit(removePattern(this.beat, this.state.patternRef), "Delete pattern");
  }

  /** Lets a stretch of the open pattern go round; without one, all of it does. */
  setRegion(span: LoopSpan | undefined): void {
    const { patternId } = this.state.patternRef;
    const { [patternId]: _, ...others } = this.state.regions;
    this.set({ regions: span ? { ...others, [patternId]: span } : others });
    this.playback.changed();
  }

  /** Lets what lies between two places of the open pattern go round; all of it where they are its ends. */
  loopBetween(fromTicks: number, toTicks: number): void {
    const { lengthTicks } = wholeSpan(findPattern(this.beat, this.state.patternRef), this.beat.meter);
    const start = Math.max(0, fromTicks);
    const end = Math.min(lengthTicks, toTicks);
    if (start === 0 && end === lengthTicks) this.setRegion(undefined);
    else if (end > start) this.setRegion({ startTicks: asTicks(start), lengthTicks: asTicks(end - start) });
  }

  /** Moves an end of what goes round, from where it is now: two keys may come within one picture. */
  moveEdge(edge: "start" | "end", byTicks: number): void {
    const { startTicks, lengthTicks } = spanOf(this.state, this.state.patternRef);
    const end = startTicks + lengthTicks;
    const least = Math.abs(byTicks);
    if (edge === "start") this.loopBetween(Math.min(startTicks + byTicks, end - least), end);
    else this.loopBetween(startTicks, Math.max(end + byTicks, startTicks + least));
  }

  /** The audio thread says when it will be in the pattern that was called up. */
  announced({ partId, segment, atTicks, inSegment }: QueuedChange): void {
    const queued = this.state.queued[partId];
    if (queued?.segment === segment) this.setQueued({ ...queued, at: { atTicks, inSegment } });
  }

  /** The audio thread is in another pattern now. */
  followed(anchor: TransportAnchor): void {
    const { partId } = anchor;
    const { [partId]: taken, ...queued } = this.state.queued;
    if (taken?.segment !== anchor.segment) return this.playback.revertTakeover(anchor);
    const { patternRef } = taken;
    if (partId === this.state.patternRef.partId) this.set({ patternRef, queued, ...FRESH_VIEW });
    else this.set({ otherPatterns: { ...this.state.otherPatterns, [partId]: patternRef.patternId }, queued });
    this.playback.tookOver(patternRef);
  }

  /** Looks at another part, and writes into it from here on; nothing that plays changes. */
  openPart(partId: number): void {
    const { patternRef: before, otherPatterns } = this.state;
    if (partId === before.partId || !this.beat.parts.some(({ id }) => id === partId)) return;
    this.set({
      patternRef: placeOf(this.state, partId),
      otherPatterns: { ...otherPatterns, [before.partId]: before.patternId },
      preview: undefined,
      ...FRESH_VIEW,
    });
    this.playback.openedPart();
  }

  /** Opens a pattern; while the loop runs it takes over when the settings say, unless a moment is given. */
  goTo(patternRef: PatternRef, { lapOf, moment = this.state.settings.switchAt }: Takeover = {}): void {
    const { transport } = this.state;
    if (!transport.running) return this.openAtRest(patternRef);
    if (this.isThere(patternRef.partId, patternRef.patternId)) return;
    const queued = { patternRef, moment, segment: this.playback.nextSegment() };
    this.set({ preview: undefined });
    this.setQueued(queued);
    this.playback.sendClick();
    this.playback.queue(patternRef, moment, queued.segment, lapOf);
  }

  /** A part plays a pattern and goes on with it; called back before it left, a pattern takes over from itself. */
  private isThere(partId: number, patternId: number): boolean {
    return placeOf(this.state, partId).patternId === patternId && !this.state.queued[partId];
  }

  private openAtRest(patternRef: PatternRef): void {
    const { patternRef: shown, otherPatterns } = this.state;
    if (patternRef.partId === shown.partId) this.set({ patternRef, queued: {}, preview: undefined, ...FRESH_VIEW });
    else this.set({ otherPatterns: { ...otherPatterns, [patternRef.partId]: patternRef.patternId } });
    this.playback.changed();
  }

  private setQueued(queued: QueuedPattern): void {
    this.set({ queued: { ...this.state.queued, [queued.patternRef.partId]: queued } });
  }

  private grow(label: string, make: () => AddedPattern, moment?: SwitchMoment): void {
    try {
      const { beat, patternRef } = make();
      if (this.document.edit(beat, label)) this.goTo(patternRef, moment && { moment });
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.set({ notice: error.message });
    }
  }
}
