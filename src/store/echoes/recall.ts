import { hitCount } from "@/core/beat/beat";
import { CoreError } from "@/core/core-error";
import { bringBack, type RecallOptions } from "@/core/recover/bring-back";
import { LAP_FOLDS } from "@/core/recover/bring-back-along";
import { echoOf } from "@/core/recover/echo";
import type { BroughtBack } from "@/core/recover/echo-pass";
import { isMissed, missingHits } from "@/core/recover/missing-hits";
import { justPlayed } from "@/core/recover/sitting";
import type { BeatDocument } from "../document/beat-document";
import type { PatternSegment } from "../engine/pattern-segment";
import type { Playback } from "../engine/playback";
import type { TransportControl } from "../engine/transport-control";
import type { WorkspaceStore } from "../state/controller";
import type { WorkspaceState } from "../state/workspace-state";
import { EchoController } from "./echo-controller";
import type { EchoMemory } from "./echo-memory";
import { chosenHits, isAlong, openedEcho, straightens, type OpenEcho } from "../state/open-echo";
import type { ReadingSession } from "./reading-session";

export type RecallChange = Partial<
  Pick<OpenEcho, "tempo" | "straighten" | "quantized" | "partId"> & { readonly along: Partial<OpenEcho["along"]> }
>;

const ONLY_OTHERS =
  "Nothing was just played in this beat that it misses; here is all that was played before, and elsewhere.";

/** Phrases that are tried before it is said that there is none. */
const MOST_TRIED = 8;

export interface RecallDeps {
  readonly echoes: EchoMemory;
  readonly readings: ReadingSession;
  readonly playback: Playback;
  readonly document: BeatDocument;
  readonly patterns: PatternSegment;
  readonly transport: TransportControl;
}

/** How a phrase would come back, hearing it so, and bringing it back. */
export class Recall extends EchoController {
  private taking = false;
  /** The phrase that is open is in the beat. */
  private back = false;

  constructor(
    store: WorkspaceStore,
    private readonly deps: RecallDeps,
  ) {
    super(store);
    // What is being heard goes along with every choice.
    store.subscribe(({ openEcho, preview }, before) => {
      if (openEcho && preview && openEcho !== before.openEcho && preview === before.preview) this.hearAnew(preview);
    });
  }

  /** The phrase that is open came back. */
  get isBack(): boolean {
    return this.back;
  }

  /** The phrase that was open is left. */
  leave(): void {
    this.endHearing();
    this.back = false;
  }

  /** The next of the readings, or of the ways to fold laps. */
  stepRecall(by: 1 | -1): void {
    const { openEcho } = this.state;
    if (!openEcho) return;
    const round = (at: number, count: number) => (at + by + count) % count;
    if (isAlong(openEcho.echo, this.beat)) {
      const { fold } = openEcho.along;
      this.setRecall({ along: { fold: LAP_FOLDS[round(LAP_FOLDS.indexOf(fold), LAP_FOLDS.length)]! } });
    } else if (openEcho.readings?.length) this.deps.readings.choose(round(openEcho.chosen, openEcho.readings.length));
  }

  setRecall({ along, ...change }: RecallChange): void {
    const { openEcho } = this.state;
    if (openEcho) this.change({ ...change, along: { ...openEcho.along, ...along } });
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
    if (running) this.deps.playback.changed();
    else this.deps.transport.play();
    this.deps.playback.sendClick();
  }

  endHearing(): void {
    const { preview } = this.state;
    if (!preview) return;
    if (preview.startedPlaying) return this.deps.transport.stop();
    this.set({ preview: undefined });
    this.deps.playback.changed();
    this.deps.playback.sendClick();
  }

  /** Makes a pass of the open echo; what is being heard plays on as part of the beat. */
  bringBack(): void {
    const made = this.make();
    if (made) this.take(made);
  }

  /**
   * The phrase that is open, else the newest one that was just played in this beat and of which it misses something; never the same
   * twice. Where there is none, the list is opened.
   */
  async takeAtOnce(): Promise<void> {
    const { openEcho } = this.state;
    if (openEcho && missingHits(openEcho.whole, this.beat).length === 0)
      return this.set({ notice: "This echo is already in the beat." });
    if (openEcho) return this.bringBack();
    if (this.taking) return;
    this.taking = true;
    await this.takeNewest().finally(() => (this.taking = false));
  }

  /** The beat as it would be if the open echo came back as is chosen now. */
  make(): BroughtBack | undefined {
    const { openEcho, patternRef } = this.state;
    const options = openEcho && this.recallOf(openEcho);
    return (
      options &&
      this.attempt(() =>
        bringBack(
          this.beat,
          patternRef,
          chosenHits(openEcho),
          options,
          chosenHits({ ...openEcho, echo: openEcho.whole }),
        ),
      )
    );
  }

  /** The open echo as a Standard MIDI File. */
  async midi(): Promise<Uint8Array | undefined> {
    const { openEcho } = this.state;
    const { echoToMidi } = await import("@/core/formats/midi/echo-to-midi");
    return openEcho && this.attempt(() => echoToMidi(openEcho.echo, this.beat, this.reading));
  }

  private async takeNewest(): Promise<void> {
    const echoes = this.deps.echoes.refresh();
    const nowMs = performance.timeOrigin + performance.now();
    const missed = justPlayed(echoes, this.beat.id, nowMs).filter((one) => isMissed(one, this.beat));
    for (const whole of missed.slice(0, MOST_TRIED)) {
      const echo = echoOf(missingHits(whole, this.beat));
      const open = openedEcho(echo, this.beat);
      const readings = isAlong(echo, this.beat) ? undefined : await this.deps.readings.readingsOf(open);
      const options = this.recallOf({ ...open, readings });
      // Too short to find its tempo: what was played before it may be meant.
      if (!options) continue;
      const back = this.attempt(() => bringBack(this.beat, this.state.patternRef, echo, options, whole));
      return back && this.take(back);
    }
    // What was played another time, or in another beat, is not meant unseen.
    const others = echoes.some((one) => !missed.includes(one) && isMissed(one, this.beat));
    if (others) this.set({ stack: "echoes", view: "lanes" });
    this.set({ notice: others ? ONLY_OTHERS : "All that was played here is in the beat, or too short." });
  }

  private recallOf(open: OpenEcho): RecallOptions | undefined {
    const { quantized, along, chosen, readings } = open;
    const tempo = open.tempo ?? (hitCount(this.beat) === 0 ? "use" : "fit");
    if (isAlong(open.echo, this.beat)) return { kind: "along", ...along, tempo, quantized };
    const reading = readings?.[chosen];
    return reading && { kind: "free", reading, tempo, straighten: straightens(open, reading), quantized };
  }

  private take({ beat, patternRef }: BroughtBack): void {
    const wasHeard = this.hearing;
    if (!this.deps.document.edit(beat, "Bring back an echo")) return;
    this.back = this.state.openEcho !== undefined;
    if (wasHeard) {
      const { [patternRef.partId]: _, ...queued } = this.state.queued;
      this.set({ preview: undefined, patternRef, queued });
      this.deps.playback.changed();
      this.deps.playback.sendClick();
    } else if (patternRef.patternId !== this.state.patternRef.patternId) this.deps.patterns.goTo(patternRef);
    this.set({ notice: "The echo is back, as the newest pass" });
  }

  private hearAnew({ startedPlaying }: NonNullable<WorkspaceState["preview"]>): void {
    const made = this.make();
    if (!made) return;
    this.set({ preview: { ...made, startedPlaying } });
    this.deps.playback.changed();
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
