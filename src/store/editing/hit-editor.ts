import type { Beat, Lane, PatternRef } from "@/core/beat/beat";
import { findPart, findPattern } from "@/core/beat/edit";
import { findLane, shownLanes } from "@/core/beat/lanes";
import { MAX_BARS } from "@/core/beat/new-beat";
import { removeHits } from "@/core/beat/edits/pass-edit";
import { pasteHits, copyHits } from "@/core/editing/clip";
import { copyBar, doubleLoop, halveLoop, repeatHits } from "@/core/editing/copy-hits";
import { dropHits, type HitDrag } from "@/core/editing/drag-hits";
import { editLines, linesBeside, nearestLine, type EditLines } from "@/core/editing/edit-lines";
import { returnHits, unmaskHits, type HitIds } from "@/core/editing/hand-change";
import * as moves from "@/core/editing/move-hits";
import * as lengths from "@/core/editing/stretch-hits";
import * as levels from "@/core/editing/weigh-hits";
import { placesWith } from "@/core/editing/places-with";
import { writeHits } from "@/core/editing/write-hits";
import { barTicks } from "@/core/time/meter";
import { formatPosition } from "@/core/time/position";
import { secondsToTicks } from "@/core/time/tempo";
import { asSeconds, asTicks, wrap, type Ticks } from "@/core/time/ticks";
import { unwarpTicks, warpTicks, type Warp } from "@/core/time/warp";
import { feelOf } from "@/core/timing/feel-of";
import type { ResolvedHit } from "@/core/timing/resolved-hit";
import type { Playback } from "../engine/playback";
import type { TimingControl } from "../timing/timing-control";
import type { LaneView } from "../view/lane-view";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { BeatDocument } from "../document/beat-document";
import type { Clipboard } from "./clipboard";

/** How hard a hit is that is written with the pointer; as a key strikes without accent. */
const WRITTEN_VELOCITY = 100;

export interface HitEditorDeps {
  readonly document: BeatDocument;
  readonly lanes: LaneView;
  readonly timing: Pick<TimingControl, "listenTo">;
  readonly playback: Pick<Playback, "audibleAt">;
  readonly clipboard: Clipboard;
}

/** What is made of some hits of a pattern. */
type HitEdit = (beat: Beat, patternRef: PatternRef, ids: HitIds) => Beat;

/** What is done with the chosen hits: each call is one step of undo, but for nudges one after the other. */
export class HitEditor extends Controller {
  constructor(
    store: WorkspaceStore,
    private readonly deps: HitEditorDeps,
  ) {
    super(store);
  }

  // ---- where they are

  /** @param by lines of the input grid; negative goes back */
  moveByLines(by: number): void {
    this.nudge("Move", (beat, patternRef, ids) => moves.moveByLines(beat, patternRef, ids, by));
  }

  moveByBeats(by: number): void {
    this.nudge("Move", (beat, patternRef, ids) => moves.moveByBeats(beat, patternRef, ids, by));
  }

  moveByMs(by: number): void {
    this.moveByTicks(secondsToTicks(asSeconds(by / 1000), this.beat.bpm));
  }

  moveByTicks(by: number): void {
    this.nudge("Move", (beat, patternRef, ids) => moves.moveHeard(beat, patternRef, ids, by));
  }

  /** To the lanes above, or below where negative; of notes by semitones. A hit for which there is no such lane stays. */
  moveByLanes(by: number): void {
    this.nudge("Move", (beat, patternRef, ids) =>
      moves.moveToLanes(beat, patternRef, ids, (lane) => this.laneBeside(lane, by)),
    );
  }

  /** The lane so many rows above another one. */
  laneBeside(lane: Lane, by: number): Lane | undefined {
    const { patternRef, octaves, folded } = this.state;
    const part = findPart(this.beat, patternRef.partId);
    if (part.kind === "tonal") return findLane(part, lane + by)?.id;
    const shown = shownLanes(part, findPattern(this.beat, patternRef), octaves[part.id] ?? 0, folded);
    const row = shown.findIndex(({ id }) => id === lane);
    return row < 0 ? undefined : shown[row + by]?.id;
  }

  drop(drag: HitDrag): void {
    const dropped = dropHits(this.beat, this.state.patternRef, this.chosen, drag);
    if (this.edit(drag.copy ? "Copy" : "Move", dropped.beat) && drag.copy) this.deps.lanes.select(dropped.ids);
  }

  flatten(): void {
    this.change("Flatten", moves.flattenHits);
  }

  // ---- how hard, how long

  shiftVelocity(by: number, gesture?: string): void {
    const shift = (beat: Beat, patternRef: PatternRef, ids: HitIds) => levels.shiftVelocity(beat, patternRef, ids, by);
    if (gesture) this.change("Velocity of", shift, gesture);
    else this.nudge("Velocity of", shift);
  }

  /** Half way to the middle of them. */
  compressVelocity(): void {
    this.change("Even out", (beat, patternRef, ids) => levels.compressVelocity(beat, patternRef, ids, 0.5));
  }

  loosenVelocity(by: number, seed: number): void {
    this.change("Loosen", (beat, patternRef, ids) => levels.loosenVelocity(beat, patternRef, ids, by, seed));
  }

  stretchBy(byTicks: number, gesture?: string): void {
    this.change("Length of", (beat, patternRef, ids) => lengths.stretchBy(beat, patternRef, ids, byTicks), gesture);
  }

  endOnLines(): void {
    this.change("Length of", lengths.endOnLines);
  }

  cutAtEnd(): void {
    this.change("Cut", lengths.cutAtEnd);
  }

  // ---- there or not

  remove(): void {
    const ids = this.chosen;
    const keep = this.state.recordings[this.state.patternRef.partId]?.passId;
    const remove = (beat: Beat, patternRef: PatternRef) => removeHits(beat, patternRef, ({ id }) => ids.has(id), keep);
    if (this.edit("Delete", this.inTheirPatterns(remove, ids))) this.deps.lanes.select([]);
  }

  /** As they were played. */
  return(): void {
    this.change("Return", returnHits);
  }

  /** A hit where somebody points, on the nearest line; one that is there on its lane goes. */
  writeOrRub(lane: Lane, heardTicks: Ticks, there: number | undefined): void {
    if (there === undefined) return this.write(lane, heardTicks, "");
    this.deps.lanes.select([there]);
    this.remove();
  }

  /** A hit on the line that is nearest to a place as it is heard; those of one gesture are one step of undo. */
  write(lane: Lane, heardTicks: Ticks, gesture: string): void {
    const lines = this.lines;
    const line = this.lineAt(lane, heardTicks);
    const lengthTicks = asTicks(linesBeside(lines, line).after - line);
    const hit = { lane, ticks: line, velocity: WRITTEN_VELOCITY, lengthTicks };
    const written = writeHits(this.beat, this.state.patternRef, [hit]);
    this.listen();
    const name = findLane(findPart(this.beat, this.state.patternRef.partId), lane)?.name ?? "a hit";
    const at = formatPosition(line, this.beat.meter).replace(/\.000$/, "");
    this.editAs(gesture ? `Write along ${name}` : `Write ${name} on ${at}`, written.beat, gesture || undefined);
    this.deps.lanes.select(written.ids);
  }

  /** The straight line whose swung and grooved place is nearest. */
  lineAt(lane: Lane, heardTicks: Ticks): Ticks {
    return nearestLine(this.lines, unwarpTicks(this.warpOf(lane), heardTicks));
  }

  /** Where the nearest line is heard, also behind the loop's end. */
  lineNear(lane: Lane, heardTicks: Ticks): Ticks {
    const warp = this.warpOf(lane);
    const straight = unwarpTicks(warp, heardTicks);
    const { before, after } = linesBeside(this.lines, straight);
    return warpTicks(warp, straight - before < after - straight ? before : after);
  }

  private get lines(): EditLines {
    return editLines(findPattern(this.beat, this.state.patternRef), this.beat.meter, this.beat.inputQuantize);
  }

  private warpOf(lane: Lane): Warp | undefined {
    return feelOf(findPattern(this.beat, this.state.patternRef), this.beat.meter)(lane).warp;
  }

  // ---- more of the same

  /** @returns false where nothing is chosen that is heard */
  copy(): boolean {
    const clip = copyHits(this.beat, this.state.patternRef, this.chosen);
    if (clip) this.deps.clipboard.write(clip);
    this.set({ notice: clip ? `Copied ${countOf(clip.hits.length)}` : "Nothing is chosen that could be copied." });
    return clip !== undefined;
  }

  /** What could not be copied stays. */
  cut(): void {
    if (this.copy()) this.remove();
  }

  /** @param where at their old places, or from the line on that is being heard or that the focus is on */
  async paste(where: "same" | "here"): Promise<void> {
    const clip = await this.deps.clipboard.read();
    if (!clip) return this.set({ notice: "No hits were copied yet." });
    const pasted = pasteHits(this.beat, this.state.patternRef, clip, where === "here" ? this.lineHere() : undefined);
    if (pasted.ids.length === 0) return this.set({ notice: PASTED_NOTHING });
    if (!this.edit("Paste", pasted.beat, pasted.ids.length)) return;
    this.deps.lanes.select(pasted.ids);
    if (pasted.left > 0) this.set({ notice: `${countOf(pasted.left)} left out: this part has no such lanes.` });
  }

  repeat(): void {
    this.edit("Repeat", repeatHits(this.beat, this.state.patternRef, this.chosen).beat);
  }

  /** All bars like the one of the chosen hit that has the focus. */
  copyBar(): void {
    const focus = this.focus;
    if (!focus) return;
    const bar = Math.max(0, Math.floor(focus.straightTicks / barTicks(this.beat.meter)));
    this.deps.document.edit(copyBar(this.beat, this.state.patternRef, bar).beat, `Copy bar ${bar + 1} onto all`);
  }

  doubleLoop(): void {
    const { bars } = findPattern(this.beat, this.state.patternRef);
    if (2 * bars > MAX_BARS) return this.set({ notice: `A loop has ${MAX_BARS} bars at the most.` });
    this.deps.document.edit(doubleLoop(this.beat, this.state.patternRef), "Double the loop");
  }

  halveLoop(): void {
    const halved = halveLoop(this.beat, this.state.patternRef);
    if (halved === this.beat) return this.set({ notice: "A loop of an odd number of bars has no half." });
    this.deps.document.edit(halved, "Halve the loop");
  }

  // ---- whatever else

  /** What has a word for itself in the core. @param ids the chosen ones where they are left out */
  apply(verb: string, change: HitEdit, ids: HitIds = this.chosen, gesture?: string): void {
    this.listen();
    this.edit(verb, this.inTheirPatterns(change, ids), ids.size, gesture);
  }

  /** Double triggers among the chosen hits sound after all. */
  unmask(): void {
    this.apply("Let sound", unmaskHits);
  }

  /** The chosen hits; ids of those that are gone meanwhile change nothing. */
  get chosen(): HitIds {
    return new Set(this.state.selected);
  }

  private get focus(): ResolvedHit | undefined {
    return this.deps.lanes.focused;
  }

  /** The line that is nearest to what is heard now, else to the hit that has the focus, else the first one. */
  private lineHere(): Ticks {
    const { transport } = this.state;
    const lines = this.lines;
    const audible = transport.running ? this.deps.playback.audibleAt(performance.now()) : undefined;
    if (!audible) return nearestLine(lines, this.focus?.straightTicks ?? asTicks(0));
    const { span } = audible.anchor;
    return nearestLine(lines, asTicks(span.startTicks + wrap(audible.ticks, span.lengthTicks)));
  }

  private nudge(verb: string, change: HitEdit): void {
    const { selected } = this.state;
    this.change(verb, change, `nudge ${verb} ${selected.length} ${selected.at(-1)}`);
  }

  private change(verb: string, change: HitEdit, gesture?: string): void {
    this.listen();
    this.edit(verb, this.inTheirPatterns(change, this.chosen), this.state.selected.length, gesture);
  }

  /** Hits of other patterns of the part can be chosen, too, where the table lists them. */
  private inTheirPatterns(change: HitEdit, ids: HitIds): Beat {
    const places = placesWith(this.beat, this.state.patternRef, ids);
    return places.reduce((beat, patternRef) => change(beat, patternRef, ids), this.beat);
  }

  /** What is heard as it was played would not show what is made of it. */
  private listen(): void {
    if (this.state.timingView === "played") this.deps.timing.listenTo("grooved");
  }

  private edit(verb: string, beat: Beat, count = this.state.selected.length, gesture?: string): boolean {
    return this.editAs(`${verb} ${countOf(count)}`, beat, gesture);
  }

  private editAs(label: string, beat: Beat, gesture?: string): boolean {
    const before = this.beat;
    const made = this.deps.document.edit(beat, label, gesture);
    if (this.beat !== before) this.set({ notice: label });
    return made;
  }
}

const PASTED_NOTHING = "What was copied does not fit here: hits of kits go to kits, notes to parts with pitch.";

/** @example countOf(3) // "3 hits" */
export function countOf(hits: number): string {
  return `${hits.toLocaleString("en-GB")} ${hits === 1 ? "hit" : "hits"}`;
}
