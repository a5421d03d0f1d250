import type { QuantizeSettings } from "@/core/beat/beat";
import { findPattern, setFeel, setInputQuantize } from "@/core/beat/edit";
import type { Feel, Groove, GrooveGrid } from "@/core/beat/feel";
import { quantizeOf, setQuantize, type QuantizeScope } from "@/core/beat/edits/quantize-edit";
import type { QuantizeChange } from "@/core/beat/quantize-settings";
import { CoreError } from "@/core/core-error";
import type { MidiStrokes } from "@/core/formats/midi/midi-strokes";
import { GRID_NAMES } from "@/core/time/grid";
import { barTicks } from "@/core/time/meter";
import type { Ticks } from "@/core/time/ticks";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import { extractGroove, type TimedStroke } from "@/core/timing/extract-groove";
import type { TimingView } from "@/core/timing/resolved-hit";
import { keepTiming, returnToPlayed, returnToPoint } from "@/core/timing/keep-timing";
import type { BeatDocument } from "../document/beat-document";
import type { Playback } from "../engine/playback";
import type { Repository } from "../persistence/repository";
import { Controller, type WorkspaceStore } from "../state/controller";
import { quantizeScopeOf, type TimingScope } from "../state/workspace-state";
import { plainName } from "@/core/beat/plain-name";
import { wordsOfTake } from "./words-of-take";

/** What a groove is made of. */
export type GrooveSource =
  | { readonly kind: "pattern" }
  | { readonly kind: "pass"; readonly passId: number }
  | { readonly kind: "selected" };

/** A feel with all of it where a part is not named. */
export type FeelChange = { readonly [Key in keyof Feel]?: Feel[Key] | undefined };

const FULL = { timing: 1, velocity: 1 };

/** Grid, groove and the ways back, for what was played and for what comes next. */
export class TimingControl extends Controller {
  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
    private readonly document: BeatDocument,
    private readonly repository: Repository,
  ) {
    super(store);
  }

  /** Fetches the player's own grooves. */
  async open(): Promise<void> {
    this.set({ grooves: await this.repository.readGrooves() });
  }

  // ---- what is listened to

  listenTo(timingView: TimingView): void {
    if (timingView === this.state.timingView) return;
    this.set({ timingView, notice: `Hearing: ${timingView}` });
    this.playback.changed();
  }

  /** Between what was played and all that is made of it. */
  toggleAsPlayed(): void {
    this.listenTo(this.state.timingView === "played" ? "grooved" : "played");
  }

  // ---- quantize

  setScope(scope: TimingScope): void {
    this.set({ timingScope: scope });
  }

  /** The settings that the scope has now. */
  get settings(): QuantizeSettings {
    const scope = this.editScope;
    return (
      (scope && quantizeOf(findPattern(this.beat, this.state.patternRef).passes, scope)) ?? this.beat.inputQuantize
    );
  }

  /** @returns whether it was made */
  setQuantize(change: QuantizeChange, gesture?: string): boolean {
    const scope = this.editScope;
    return scope
      ? this.document.edit(setQuantize(this.beat, this.state.patternRef, scope, change), "Quantize", gesture)
      : this.document.edit(setInputQuantize(this.beat, change), "Input quantize", gesture);
  }

  /** To the grid before or after: of recorded hits it is heard from the next one on, else it is for what is played next. */
  stepGrid(by: 1 | -1): void {
    const index = GRID_NAMES.indexOf(this.settings.grid);
    const grid = GRID_NAMES[(index + by + GRID_NAMES.length) % GRID_NAMES.length]!;
    if (!this.setQuantize({ grid, mix: [] })) return;
    this.set({ notice: this.editScope ? `Grid: ${grid}` : `Grid of the next hits: ${grid}` });
  }

  /** Corrects the hits that the advice speaks of by the grid that it found for them. */
  async takeAdvice(): Promise<void> {
    const { advisePattern } = await import("@/core/analysis/pattern-advice");
    const advice = advisePattern(this.beat, this.state.patternRef, this.editScope);
    if (!advice) return this.set({ notice: "No grid can be told from these hits." });
    if (!advice.take) return this.set({ notice: advice.sentence });
    const { quantize, swing } = advice.take;
    const { patternRef } = this.state;
    const corrected = setQuantize(this.beat, patternRef, advice.scope, quantize);
    const taken = swing ? setFeel(corrected, patternRef, { swing }) : corrected;
    if (!this.document.edit(taken, "Take the advised grid")) return;
    const whose = advice.pass === undefined ? "these hits" : `“${advice.pass}”`;
    this.set({ notice: `Taken for ${whose}: ${wordsOfTake(advice.take)}${swing ? " of the whole pattern" : ""}` });
  }

  // ---- feel

  /**
   * @param change of what the pattern has now: what was drawn last may be older
   * @returns whether it was made
   */
  setFeel(change: (now: Feel) => FeelChange, label: string, gesture?: string): boolean {
    const { patternRef } = this.state;
    return this.document.edit(
      setFeel(this.beat, patternRef, change(findPattern(this.beat, patternRef))),
      label,
      gesture,
    );
  }

  /** @param groove undefined for none; how much of it is taken stays */
  setGroove(groove: Groove | undefined): void {
    const change = (now: Feel) => {
      const { timing, velocity } = now.groove ?? FULL;
      return { groove: groove && { groove, timing, velocity } };
    };
    const name = groove?.name ?? "none";
    if (this.setFeel(change, `Groove ${name}`)) this.set({ notice: `Groove: ${name}` });
  }

  /** To the groove before or after; none is one of them. */
  stepGroove(by: 1 | -1): void {
    const all = [undefined, ...BUILT_IN_GROOVES, ...this.state.grooves];
    const name = findPattern(this.beat, this.state.patternRef).groove?.groove.name;
    const index = Math.max(
      0,
      all.findIndex((groove) => groove?.name === name),
    );
    this.setGroove(all[(index + by + all.length) % all.length]);
  }

  // ---- keep and return

  keep(): void {
    const { points = [], passes } = findPattern(this.beat, this.state.patternRef);
    if (!passes.some(({ hits }) => hits.length > 0)) return this.set({ notice: "There is no hit yet to keep." });
    const numbers = points.map(({ name }) => Number(/^Kept (\d+)$/.exec(name)?.[1] ?? 0));
    const name = `Kept ${Math.max(0, ...numbers) + 1}`;
    if (this.document.edit(keepTiming(this.beat, this.state.patternRef, name), "Keep timing"))
      this.set({ notice: `Timing kept as "${name}"` });
  }

  /** @param pointId the newest point where it is left out */
  return(pointId?: number): void {
    const { points = [] } = findPattern(this.beat, this.state.patternRef);
    const point = pointId === undefined ? points.at(-1) : points.find(({ id }) => id === pointId);
    if (!point) return this.returnToPlayed();
    if (this.document.edit(returnToPoint(this.beat, this.state.patternRef, point.id), `Return to ${point.name}`))
      this.set({ notice: `Back at "${point.name}"` });
  }

  returnToPlayed(): void {
    if (this.document.edit(returnToPlayed(this.beat, this.state.patternRef), "Return to played"))
      this.set({ notice: "Back at what was played" });
  }

  // ---- grooves of one's own

  /** Makes a groove and puts it among one's own. On its own source it would move what it was made of once more. */
  grooveFrom(source: GrooveSource, name: string, grid: GrooveGrid, bars: 1 | 2): void {
    this.take(this.strokesOf(source), name, grid, bars, barTicks(this.beat.meter));
  }

  grooveFromMidi({ strokes, barTicks: bar }: MidiStrokes, name: string, grid: GrooveGrid, bars: 1 | 2): void {
    this.take(strokes, name, grid, bars, bar);
  }

  addGroove(groove: Groove): void {
    void this.keepGroove({ ...groove, name: this.freeName(groove.name) });
  }

  renameGroove(groove: Groove, name: string): void {
    const trimmed = plainName(name);
    if (trimmed === "" || trimmed === groove.name) return;
    const renamed = { ...groove, name: this.freeName(trimmed) };
    void this.repository.removeGroove(groove.name);
    this.set({ grooves: this.state.grooves.filter((other) => other.name !== groove.name) });
    void this.keepGroove(renamed);
    const current = findPattern(this.beat, this.state.patternRef).groove;
    if (current?.groove.name === groove.name)
      this.setFeel(() => ({ groove: { ...current, groove: renamed } }), "Rename groove");
  }

  /** Patterns that have it keep it. */
  removeGroove(groove: Groove): void {
    void this.repository.removeGroove(groove.name);
    this.set({
      grooves: this.state.grooves.filter(({ name }) => name !== groove.name),
      removedGroove: groove,
      notice: `Your groove “${groove.name}” is gone; the groove menu brings it back`,
    });
  }

  /** The one that was taken away last. */
  restoreGroove(): void {
    const { removedGroove } = this.state;
    if (!removedGroove) return;
    void this.keepGroove({ ...removedGroove, name: this.freeName(removedGroove.name) });
    this.set({ removedGroove: undefined });
  }

  private take(strokes: readonly TimedStroke[], name: string, grid: GrooveGrid, bars: 1 | 2, bar: Ticks): void {
    try {
      const { groove, fit } = extractGroove(strokes, { name, grid, bars, barTicks: bar });
      const percent = Math.round(fit.share * 100);
      const description = `Made of ${fit.hits} hits on ${fit.playedLines} of ${fit.lines} lines; it stands for ${percent} % of them.`;
      this.addGroove({ ...groove, description });
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.set({ notice: error.message });
    }
  }

  private strokesOf(source: GrooveSource): readonly TimedStroke[] {
    const chosen = new Set(this.state.selected);
    const { passes } = findPattern(this.beat, this.state.patternRef);
    return passes
      .filter((pass) => (source.kind === "pass" ? pass.id === source.passId : !pass.muted))
      .flatMap(({ hits }) => hits)
      .filter(({ id, masked }) => !masked && (source.kind !== "selected" || chosen.has(id)))
      .map(({ lane, played, start }) => ({
        pad: lane,
        velocity: played.velocity,
        ticks: start?.ticks ?? played.ticks,
      }));
  }

  /** Among one's own at once; where the store does not take it, that is said. */
  private async keepGroove(groove: Groove): Promise<void> {
    const { name, description } = groove;
    this.set({ grooves: [...this.state.grooves, groove], notice: `“${name}” is among your grooves. ${description}` });
    if (await this.repository.writeGroove(groove)) return;
    this.set({ notice: `“${name}” could not be kept: it is gone when the page is.` });
  }

  private freeName(name: string): string {
    const taken = new Set([...BUILT_IN_GROOVES, ...this.state.grooves].map((groove) => groove.name));
    for (let number = 1; ; number++) {
      const candidate = number === 1 ? name : `${name} ${number}`;
      if (!taken.has(candidate)) return candidate;
    }
  }

  /** Undefined for what comes next. */
  private get editScope(): QuantizeScope | undefined {
    return quantizeScopeOf(this.state.timingScope, this.state.selected);
  }
}
