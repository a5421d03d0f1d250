import type { GridAdvice } from "@/core/analysis/grid-advice";
import { advisePattern } from "@/core/analysis/pattern-advice";
import { hitCount } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import { CoreError } from "@/core/core-error";
import { echoToMidi } from "@/core/formats/echo-to-midi";
import { alongHits, bringBack, type RecallOptions } from "@/core/recover/bring-back";
import { LAP_FOLDS } from "@/core/recover/bring-back-along";
import { echoOf, type Echo, type LookbackHit } from "@/core/recover/echo";
import type { BroughtBack } from "@/core/recover/echo-pass";
import { isMissed, missingHits } from "@/core/recover/missing-hits";
import { LIKELY_METERS, type FreeHit, type Reading, type ReadingHints } from "@/core/recover/readings";
import { pulseTicks, sameMeter, type Meter } from "@/core/time/meter";
import { addTap, readTaps } from "@/core/time/tap-tempo";
import { TICKS_PER_QUARTER } from "@/core/time/ticks";
import type { BeatDocument } from "./beat-document";
import type { EchoMemory } from "./echo-memory";
import { chosenHits, straightens, type OpenEcho } from "./open-echo";
import type { PatternRun } from "./pattern-run";
import type { Playback } from "./playback";
import type { TransportControl } from "./transport-control";
import { Controller, type WorkspaceStore } from "./controller";

/** Works out readings, wherever that is done. */
export type FindReadings = (
  hits: readonly FreeHit[],
  meters: readonly Meter[],
  hints: ReadingHints,
) => Promise<readonly Reading[]>;

export type RecallChange = Partial<
  Pick<OpenEcho, "tempo" | "straighten" | "quantized" | "partId"> & { readonly along: Partial<OpenEcho["along"]> }
>;

/** A note that is no drum of General MIDI. */
const NO_DRUM = 0;
/** Phrases that are tried before it is said that there is none. */
const MOST_TRIED = 8;

export interface EchoDeskDeps {
  readonly echoes: EchoMemory;
  readonly playback: Playback;
  readonly document: BeatDocument;
  readonly patterns: PatternRun;
  readonly transport: TransportControl;
  readonly findReadings: FindReadings;
}

/** Where a phrase is looked at, heard, turned over and brought back. */
export class EchoDesk extends Controller {
  private taps: readonly number[] = [];
  private asked = 0;
  private taking = false;
  /** The phrase that is open is in the beat. */
  private isBack = false;
  /** What was said since the readings that are shown were asked for. */
  private unanswered: ReadingHints = {};

  constructor(
    store: WorkspaceStore,
    private readonly deps: EchoDeskDeps,
  ) {
    super(store);
  }

  /** Looks at a phrase; at none with undefined. */
  open(echo: Echo | undefined): void {
    this.endHearing();
    this.taps = [];
    this.unanswered = {};
    this.isBack = false;
    this.set({ openEcho: echo && this.fresh(echo) });
    if (echo && !this.isAlong(echo)) void this.read();
  }

  /** Somebody plays on after a phrase came back: it is done with, and the newest is the next one to be meant. */
  playedOn(): void {
    if (this.isBack) this.open(undefined);
  }

  /** Goes to the phrase before or after the one that is open, from the newest on. */
  walk(by: "older" | "newer"): void {
    const { openEcho } = this.state;
    const echoes = this.deps.echoes.refresh();
    const at = echoes.findIndex(({ id }) => id === openEcho?.whole.id);
    const next = at < 0 ? echoes.length - 1 : Math.max(0, Math.min(echoes.length - 1, at + (by === "older" ? -1 : 1)));
    this.set({ stack: "echoes" });
    if (echoes[next] && next !== at) this.open(echoes[next]);
  }

  /** The next of the readings, or of the ways to fold laps. */
  stepRecall(by: 1 | -1): void {
    const { openEcho } = this.state;
    if (!openEcho) return;
    const round = (at: number, count: number) => (at + by + count) % count;
    if (this.isAlong(openEcho.echo)) {
      const { fold } = openEcho.along;
      this.setRecall({ along: { fold: LAP_FOLDS[round(LAP_FOLDS.indexOf(fold), LAP_FOLDS.length)]! } });
    } else if (openEcho.readings?.length) this.choose(round(openEcho.chosen, openEcho.readings.length));
  }

  /** It was played with a loop: where it belongs is known. */
  isAlong(echo: Echo): boolean {
    return alongHits(echo, this.beat).length > 0;
  }

  /** All of it is in the beat. */
  isThere(echo: Echo): boolean {
    return missingHits(echo, this.beat).length === 0;
  }

  choose(chosen: number): void {
    this.change({ chosen });
  }

  setRecall({ along, ...change }: RecallChange): void {
    const { openEcho } = this.state;
    if (openEcho) this.change({ ...change, along: { ...openEcho.along, ...along } });
  }

  /** Leaves out what was played before and after. @param from the first hit that stays. @param to the first that goes */
  trim(from: number, to: number): void {
    const { openEcho } = this.state;
    if (!openEcho || from >= to) return;
    const first = Math.max(0, from);
    this.change({ from: first, echo: echoOf(openEcho.whole.hits.slice(first, to)) });
    if (!this.isAlong(openEcho.whole)) void this.read();
  }

  /** Leaves out, or takes in again, hits at an end: from where it is now, as two keys may come within one picture. */
  stepEnd(end: "first" | "last", by: number): void {
    const { openEcho } = this.state;
    if (!openEcho) return;
    const { from, echo, whole } = openEcho;
    const to = from + echo.hits.length;
    if (end === "first") this.trim(from + by, to);
    else this.trim(from, Math.min(whole.hits.length, to + by));
  }

  /** What the player says about the readings; undefined takes it back. */
  hint(hints: OpenEcho["hints"]): void {
    const { openEcho } = this.state;
    if (!openEcho) return;
    this.unanswered = { ...this.unanswered, ...hints };
    this.change({ hints: { ...openEcho.hints, ...hints } });
    void this.read();
  }

  /** Only what was found counts again. */
  forgetHints(): void {
    this.taps = [];
    this.change({ taps: 0 });
    this.hint({ quarterSeconds: undefined, downbeat: undefined, bars: undefined });
  }

  /** Half or twice as fast; the length in seconds stays. */
  scaleTempo(by: 0.5 | 2): void {
    const said = this.said();
    if (!said) return;
    const { quarterSeconds, bars, downbeat } = said;
    this.hint({ quarterSeconds: quarterSeconds / by, bars: Math.max(1, Math.round(bars * by)), downbeat });
  }

  /** @param by bars more, at the end: the downbeat stays */
  stepBars(by: number): void {
    const said = this.said();
    if (said) this.hint({ bars: Math.max(1, said.bars + by), downbeat: said.downbeat });
  }

  /** @param by steps of the reading's grid later */
  stepDownbeat(by: number): void {
    const said = this.said();
    if (!said) return;
    const { downbeat, bars, quarterSeconds, perQuarter } = said;
    this.hint({ downbeat: downbeat + (by * quarterSeconds) / perQuarter, bars });
  }

  /** Taps along with what is heard say the tempo. */
  tap(timeMs: number): void {
    const meter = this.reading?.meter ?? this.beat.meter;
    this.taps = addTap(this.taps, timeMs);
    this.change({ taps: this.taps.length });
    const tapped = readTaps(this.taps, Math.max(TICKS_PER_QUARTER, pulseTicks(meter)));
    if (tapped) this.hint({ quarterSeconds: 60 / tapped.bpm, bars: undefined });
  }

  get hearing(): boolean {
    return this.state.preview !== undefined;
  }

  /** Lets the echo be heard as it would come back, without touching the beat; or ends that. */
  toggleHearing(): void {
    if (this.hearing) return this.endHearing();
    const made = this.make();
    if (!made) return;
    const { running } = this.state.transport;
    this.set({ preview: { ...made, startedPlaying: !running } });
    if (running) this.hearChange();
    else this.deps.transport.play();
    this.deps.playback.sendClick();
  }

  endHearing(): void {
    const { preview } = this.state;
    if (!preview) return;
    if (preview.startedPlaying) return this.deps.transport.stop();
    this.set({ preview: undefined });
    this.hearChange();
    this.deps.playback.sendClick();
  }

  /** Makes a pass of the open echo; what is being heard plays on as part of the beat. */
  bringBack(): void {
    const made = this.make();
    if (made) this.take(made);
  }

  /** The phrase that is open, else the newest one of which the beat misses something; never the same twice. */
  async takeAtOnce(): Promise<void> {
    const { openEcho } = this.state;
    if (openEcho && this.isThere(openEcho.whole)) return this.set({ notice: "This echo is already in the beat." });
    if (openEcho) return this.bringBack();
    if (this.taking) return;
    this.taking = true;
    await this.takeNewest().finally(() => (this.taking = false));
  }

  /** Which grid the open echo would be on, if it came back as is chosen now. */
  advice(): GridAdvice | undefined {
    const made = this.make();
    if (!made) return undefined;
    const { beat, place } = made;
    const passId = findPattern(beat, place).passes.at(-1)!.id;
    return advisePattern(beat, place, { kind: "pass", passId }, beat.inputQuantize.grid);
  }

  /** The open echo as a Standard MIDI File. */
  midi(): Uint8Array | undefined {
    const { openEcho } = this.state;
    return openEcho && this.attempt(() => echoToMidi(openEcho.echo, this.beat, this.reading));
  }

  private async takeNewest(): Promise<void> {
    const missed = this.deps.echoes.refresh().filter((one) => isMissed(one, this.beat));
    for (const whole of missed.toReversed().slice(0, MOST_TRIED)) {
      const echo = echoOf(missingHits(whole, this.beat));
      const open = this.fresh(echo);
      const readings = this.isAlong(echo) ? undefined : await this.readingsOf(open);
      const options = this.recallOf({ ...open, readings });
      // Too short to find its tempo: what was played before it may be meant.
      if (!options) continue;
      const back = this.attempt(() => bringBack(this.beat, this.state.place, echo, options, whole));
      return back && this.take(back);
    }
    this.set({ notice: "There is no echo to bring back: all that was played is in the beat, or too short." });
  }

  private get reading(): Reading | undefined {
    const { openEcho } = this.state;
    return openEcho?.readings?.[openEcho.chosen];
  }

  /** The reading, with what was said about it meanwhile. */
  private said() {
    const { reading } = this;
    if (!reading) return undefined;
    const { quarterSeconds = 60 / reading.bpm, downbeat = reading.downbeat, bars = reading.bars } = this.unanswered;
    return { quarterSeconds, downbeat, bars, perQuarter: reading.perQuarter };
  }

  private fresh(echo: Echo): OpenEcho {
    return {
      echo,
      whole: echo,
      from: 0,
      readings: undefined,
      chosen: 0,
      hints: {},
      taps: 0,
      along: { fold: "merged", into: "same", lap: alongHits(echo, this.beat).at(-1)?.along.lap ?? 0 },
      tempo: undefined,
      straighten: undefined,
      quantized: false,
    };
  }

  private recallOf(open: OpenEcho): RecallOptions | undefined {
    const { quantized, along, chosen, readings } = open;
    const tempo = open.tempo ?? (hitCount(this.beat) === 0 ? "use" : "fit");
    if (this.isAlong(open.echo)) return { kind: "along", ...along, tempo, quantized };
    const reading = readings?.[chosen];
    return reading && { kind: "free", reading, tempo, straighten: straightens(open, reading), quantized };
  }

  private make(): BroughtBack | undefined {
    const { openEcho, place } = this.state;
    const options = openEcho && this.recallOf(openEcho);
    return (
      options &&
      this.attempt(() =>
        bringBack(this.beat, place, chosenHits(openEcho), options, chosenHits({ ...openEcho, echo: openEcho.whole })),
      )
    );
  }

  private take({ beat, place }: BroughtBack): void {
    if (this.state.readOnly) return this.deps.document.edit(beat, "");
    const wasHeard = this.hearing;
    this.deps.document.edit(beat, "Bring back an echo");
    this.isBack = this.state.openEcho !== undefined;
    if (wasHeard) {
      const { [place.partId]: _, ...queued } = this.state.queued;
      this.set({ preview: undefined, place, queued });
      this.hearChange();
      this.deps.playback.sendClick();
    } else if (place.patternId !== this.state.place.patternId) this.deps.patterns.goTo(place);
    this.set({ notice: "The echo is back, as the newest pass" });
  }

  private change(change: Partial<OpenEcho>): void {
    const { openEcho, preview } = this.state;
    if (!openEcho) return;
    this.set({ openEcho: { ...openEcho, ...change } });
    const made = preview && this.make();
    if (!made) return;
    this.set({ preview: { ...made, startedPlaying: preview.startedPlaying } });
    this.hearChange();
  }

  private hearChange(): void {
    this.deps.playback.changed();
  }

  private async read(): Promise<void> {
    const { openEcho } = this.state;
    if (!openEcho) return;
    const asked = ++this.asked;
    const readings = await this.readingsOf(openEcho);
    const now = this.state.openEcho;
    // The player went on to another phrase, or said more about this one.
    if (asked !== this.asked || now?.whole !== openEcho.whole) return;
    this.unanswered = {};
    this.change({ readings, chosen: nearest(readings, this.reading) });
  }

  private async readingsOf({ echo, hints }: OpenEcho): Promise<readonly Reading[]> {
    const hits = echo.hits
      .filter(({ masked }) => !masked)
      .map((hit) => ({ time: hit.timeMs / 1000, note: this.drumOf(hit), velocity: hit.velocity }));
    const session = this.beat.meter;
    const others = LIKELY_METERS.filter((meter) => !sameMeter(meter, session));
    // Who knows one thing better still means the tempo that was chosen.
    const known = Object.values(hints).some((hint) => hint !== undefined);
    const kept = known && this.reading;
    try {
      return await this.deps.findReadings(hits, [session, ...others], { ...hints, ...(kept && { kept }), session });
    } catch (error) {
      this.set({ notice: `The tempo could not be worked out. ${(error as Error).message}` });
      return [];
    }
  }

  /** What a stroke says of the bar: a low note of a bass is no kick. */
  private drumOf({ partId, beatId, note }: LookbackHit): number {
    const part = beatId === this.beat.id ? this.beat.parts.find(({ id }) => id === partId) : undefined;
    return part?.kind === "tonal" ? NO_DRUM : note;
  }

  private attempt<T>(make: () => T): T | undefined {
    try {
      return make();
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.set({ notice: error.message });
      return undefined;
    }
  }
}

/** The reading most like the one that was chosen before. */
function nearest(readings: readonly Reading[], before: Reading | undefined): number {
  if (!before) return 0;
  const like = readings.findIndex(
    ({ bpm, meter }) => sameMeter(meter, before.meter) && Math.abs(bpm / before.bpm - 1) < 0.03,
  );
  return Math.max(0, like);
}
