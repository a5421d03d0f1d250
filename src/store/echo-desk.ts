import type { GridAdvice } from "@/core/analysis/grid-advice";
import { advisePattern } from "@/core/analysis/pattern-advice";
import { hitCount } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import { CoreError } from "@/core/core-error";
import { echoToMidi } from "@/core/formats/echo-to-midi";
import { alongHits, bringBack, type Way } from "@/core/recover/bring-back";
import { FOLDS } from "@/core/recover/bring-back-along";
import { echoOf, type Echo } from "@/core/recover/echo";
import type { BroughtBack } from "@/core/recover/echo-pass";
import { LIKELY_METERS, type FreeHit, type Reading, type ReadingHints } from "@/core/recover/readings";
import { pulseTicks, sameMeter, type Meter } from "@/core/time/meter";
import { addTap, readTaps } from "@/core/time/tap-tempo";
import { TICKS_PER_QUARTER } from "@/core/time/ticks";
import type { BeatDocument } from "./beat-document";
import type { EchoMemory } from "./echo-memory";
import { straightens, type OpenEcho } from "./open-echo";
import type { PatternRun } from "./pattern-run";
import type { Playback } from "./playback";
import type { TransportControl } from "./transport-control";
import { WorkspacePart, type WorkspaceStore } from "./workspace-part";

/** Works out readings, wherever that is done. */
export type FindReadings = (
  hits: readonly FreeHit[],
  meters: readonly Meter[],
  hints: ReadingHints,
) => Promise<readonly Reading[]>;

export type WayChange = Partial<
  Pick<OpenEcho, "tempo" | "straighten" | "quantized"> & { readonly along: Partial<OpenEcho["along"]> }
>;

export interface EchoDeskDeps {
  readonly echoes: EchoMemory;
  readonly playback: Playback;
  readonly document: BeatDocument;
  readonly patterns: PatternRun;
  readonly transport: TransportControl;
  readonly findReadings: FindReadings;
}

/** Where a phrase is looked at, heard, turned over and brought back. */
export class EchoDesk extends WorkspacePart {
  private taps: readonly number[] = [];
  private asked = 0;
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
  stepWay(by: 1 | -1): void {
    const { openEcho } = this.state;
    if (!openEcho) return;
    const round = (at: number, count: number) => (at + by + count) % count;
    if (this.isAlong(openEcho.echo)) {
      const { fold } = openEcho.along;
      this.setWay({ along: { fold: FOLDS[round(FOLDS.indexOf(fold), FOLDS.length)] } });
    } else if (openEcho.readings?.length) this.choose(round(openEcho.chosen, openEcho.readings.length));
  }

  /** It was played with a pattern of this beat that is still there. */
  isAlong(echo: Echo): boolean {
    return alongHits(echo, this.beat.id).some(({ partId, along: { patternId } }) =>
      this.beat.parts.some(({ id, patterns }) => id === partId && patterns.some((pattern) => pattern.id === patternId)),
    );
  }

  isRecorded({ hits }: Echo): boolean {
    return hits.every(({ along }) => along?.recorded);
  }

  choose(chosen: number): void {
    this.change({ chosen });
  }

  setWay({ along, ...change }: WayChange): void {
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
    this.set({ preview: { ...made.back, startedPlaying: !running } });
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
    if (made) this.take(made.back, made.whole);
  }

  /** The phrase that is open, else the newest that is not in the beat; without a question. */
  async takeAtOnce(): Promise<void> {
    if (this.state.openEcho) return this.bringBack();
    const echo = this.deps.echoes.refresh().findLast((one) => !this.isRecorded(one));
    if (!echo) return this.set({ notice: "There is no echo: all that was played is recorded." });
    const open = this.fresh(echo);
    const readings = this.isAlong(echo) ? undefined : await this.readingsOf(open);
    const way = this.wayOf({ ...open, readings });
    if (!way) return this.set({ notice: "The newest echo is too short to find its tempo." });
    const back = this.attempt(() => bringBack(this.beat, this.state.place, echo, way));
    if (back) this.take(back, echo);
  }

  /** Which grid the open echo would be on, if it came back as is chosen now. */
  advice(): GridAdvice | undefined {
    const made = this.make();
    if (!made) return undefined;
    const { beat, place } = made.back;
    const passId = findPattern(beat, place).passes.at(-1)!.id;
    return advisePattern(beat, place, { kind: "pass", passId }, beat.inputQuantize.grid);
  }

  /** The open echo as a Standard MIDI File. */
  midi(): Uint8Array | undefined {
    const { openEcho } = this.state;
    return openEcho && this.attempt(() => echoToMidi(openEcho.echo, this.beat, this.reading));
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
      along: { fold: "merged", into: "same", lap: alongHits(echo, this.beat.id).at(-1)?.along.lap ?? 0 },
      tempo: undefined,
      straighten: undefined,
      quantized: false,
    };
  }

  private wayOf(open: OpenEcho): Way | undefined {
    const { quantized, along, chosen, readings } = open;
    if (this.isAlong(open.echo)) return { kind: "along", ...along, quantized };
    const reading = readings?.[chosen];
    const tempo = open.tempo ?? (hitCount(this.beat) === 0 ? "use" : "fit");
    return reading && { kind: "free", reading, tempo, straighten: straightens(open, reading), quantized };
  }

  private make(): { readonly back: BroughtBack; readonly whole: Echo } | undefined {
    const { openEcho, place } = this.state;
    const way = openEcho && this.wayOf(openEcho);
    if (!way) return undefined;
    const back = this.attempt(() => bringBack(this.beat, place, openEcho.echo, way));
    return back && { back, whole: openEcho.whole };
  }

  private take({ beat, place }: BroughtBack, echo: Echo): void {
    if (this.state.readOnly) return this.deps.document.edit(beat, "");
    const wasHeard = this.hearing;
    this.deps.document.edit(beat, "Bring back an echo");
    this.deps.echoes.markUsed(echo);
    this.isBack = this.state.openEcho !== undefined;
    if (wasHeard) {
      this.set({ preview: undefined, place, queued: undefined });
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
    this.set({ preview: { ...made.back, startedPlaying: preview.startedPlaying } });
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
      .map(({ timeMs, note, velocity }) => ({ time: timeMs / 1000, note, velocity }));
    const session = this.beat.meter;
    const others = LIKELY_METERS.filter((meter) => !sameMeter(meter, session));
    // Who knows one thing better still means the tempo that was chosen.
    const known = Object.values(hints).some((hint) => hint !== undefined);
    const kept = known && this.reading;
    return this.deps.findReadings(hits, [session, ...others], { ...hints, ...(kept && { kept }), session });
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
