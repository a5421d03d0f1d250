import { findPart, findPattern } from "@/core/beat/edit";
import { CoreError } from "@/core/core-error";
import { overFeel } from "@/core/record/record-stroke";
import { placeStroke } from "@/core/record/place-stroke";
import { bringBackAlong, bringBackFree, type BroughtBack, type Fold } from "@/core/recover/bring-back";
import { MAX_LOOKBACK_HITS, splitEchoes, type Echo, type LookbackHit } from "@/core/recover/echo";
import { findReadings, type Reading } from "@/core/recover/readings";
import type { RepeatedNote } from "@/core/sound/note-repeater";
import { barTicks } from "@/core/time/meter";
import { gridOfTicks, type LineGridName } from "@/core/time/grid";
import type { Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import type { PlayedHit } from "@/inputs/played-hit";
import type { BeatDocument } from "./beat-document";
import type { PatternRun } from "./pattern-run";
import type { Playback } from "./playback";
import type { Repository } from "./repository";
import { WorkspacePart, type WorkspaceStore } from "./workspace-part";

/** What is not on disk yet is at most so old. */
const CHUNK_MS = 1000;
/** The list is made anew when nothing was played for so long. */
const SETTLED_MS = 400;

/** Remembers all that is played, recorded or not, across reloads; and brings phrases of it back. */
export class EchoMemory extends WorkspacePart {
  private hits: LookbackHit[] = [];
  private unsaved: LookbackHit[] = [];
  private saveTimer: ReturnType<typeof setTimeout> | undefined;
  private listTimer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
    private readonly document: BeatDocument,
    private readonly patterns: PatternRun,
    private readonly repository: Repository,
  ) {
    super(store);
  }

  /** Fetches what was played before this page. */
  async open(): Promise<void> {
    const before = await this.repository.readLookback();
    this.hits = [...before, ...this.hits].sort((a, b) => a.timeMs - b.timeMs).slice(-MAX_LOOKBACK_HITS);
    this.list();
  }

  /** A stroke of any device, with the time at which it was made. */
  note(hit: PlayedHit): void {
    // Held pads that repeat are remembered by what they sound.
    if (this.state.erasing.on || (this.state.repeat.rate !== undefined && !hit.masked)) return;
    const audible = this.playback.audibleAt(hit.timeMs);
    const along = audible && this.alongAt(hit.pad, audible.ticks, audible.anchor);
    this.remember({ ...hit, ...(along && { along }) });
  }

  noteRepeated({ pad, velocity, lineTicks, run, stepTicks }: RepeatedNote): void {
    const anchor = this.playback.anchorOf(run);
    const grid = gridOfTicks(stepTicks);
    const along = anchor && lineTicks !== undefined && grid ? this.alongAt(pad, lineTicks, anchor, grid) : undefined;
    this.remember({ pad, velocity, timeMs: performance.now(), device: "Note repeat", ...(along && { along }) });
  }

  /** The readings of an echo that was played free. */
  readingsOf({ hits }: Echo): readonly Reading[] {
    const free = hits.map(({ timeMs, note, velocity }) => ({ time: timeMs / 1000, note, velocity }));
    return findReadings(free, [this.beat.meter]);
  }

  bringBack(echo: Echo, fold: Fold): void {
    this.attempt(() => bringBackAlong(this.beat, echo, fold), echo);
  }

  bringBackAs(echo: Echo, reading: Reading): void {
    this.attempt(() => bringBackFree(this.beat, this.state.place, echo, reading), echo);
  }

  /** The newest phrase that is not in the beat, without a question. */
  takeNewest(): void {
    this.list();
    const echo = this.state.echoes.findLast((one) => !this.isRecorded(one));
    if (!echo) return this.set({ notice: "There is no echo: all that was played is recorded." });
    if (echo.hits.some(({ along }) => along?.beatId === this.beat.id)) return this.bringBack(echo, "merged");
    const [reading] = this.readingsOf(echo);
    if (reading) this.bringBackAs(echo, reading);
    else this.set({ notice: "The newest echo is too short to find its tempo." });
  }

  isRecorded({ hits }: Echo): boolean {
    return hits.every(({ along }) => along?.recorded);
  }

  setPatience(patience: number): void {
    this.set({ echoPatience: patience });
    this.list();
  }

  /** Final: there is no undo. */
  async clear(): Promise<void> {
    this.hits = [];
    this.unsaved = [];
    this.list();
    await this.repository.clearLookback();
  }

  async flush(): Promise<void> {
    clearTimeout(this.saveTimer);
    this.saveTimer = undefined;
    const chunk = this.unsaved;
    this.unsaved = [];
    if (chunk.length > 0 && !(await this.repository.addLookback(chunk)))
      this.set({ notice: "The browser has no room: what is played now is remembered until the page is closed." });
  }

  /** What is not on disk yet goes there, and nothing more is worked out. */
  async close(): Promise<void> {
    clearTimeout(this.listTimer);
    await this.flush();
  }

  private remember({ pad, velocity, timeMs, device, masked, along }: PlayedHit & Pick<LookbackHit, "along">): void {
    const { pads } = findPart(this.beat, this.state.place.partId);
    const note = pads.find(({ id }) => id === pad)?.note;
    if (note === undefined) return;
    const hit: LookbackHit = {
      timeMs: performance.timeOrigin + timeMs,
      pad,
      note,
      velocity,
      device,
      ...(masked && { masked }),
      ...(along && { along }),
    };
    this.hits.push(hit);
    this.unsaved.push(hit);
    this.saveTimer ??= setTimeout(() => void this.flush(), CHUNK_MS);
    clearTimeout(this.listTimer);
    this.listTimer = setTimeout(() => this.list(), SETTLED_MS);
  }

  /** @param madeOn the grid of a stroke that was made on it */
  private alongAt(
    pad: number,
    transportTicks: Ticks,
    { patternId, span, run }: TransportAnchor,
    madeOn?: LineGridName,
  ): LookbackHit["along"] {
    const place = { partId: this.state.place.partId, patternId };
    if (!findPart(this.beat, place.partId).patterns.some(({ id }) => id === patternId)) return undefined;
    const grid = madeOn ?? this.beat.inputQuantize.grid;
    const at = placeStroke(transportTicks, span, barTicks(this.beat.meter), grid);
    if (!at) return undefined;
    const stroke = {
      pad,
      ...(madeOn && { quantize: { grid: madeOn, strength: 1, reach: 1 } }),
      ...(this.state.hearing !== "grooved" && { unfelt: true as const }),
    };
    return {
      beatId: this.beat.id,
      ...place,
      run: performance.timeOrigin + run,
      lap: at.lap,
      ...overFeel(this.beat, place, stroke, at.playedTicks),
      ...(this.state.transport.writing === "record" && { recorded: true as const }),
    };
  }

  private list(): void {
    if (this.hits.length > MAX_LOOKBACK_HITS) this.hits = this.hits.slice(-MAX_LOOKBACK_HITS);
    // Two devices with delays of their own may bring strokes in another order than they were made in.
    this.hits.sort((a, b) => a.timeMs - b.timeMs);
    this.set({ echoes: splitEchoes(this.hits, this.state.echoPatience) });
  }

  private attempt(make: () => BroughtBack, { id }: Echo): void {
    try {
      const { beat, place } = make();
      const { length } = findPattern(beat, place).passes;
      this.document.edit(beat, "Bring back an echo");
      if (this.state.readOnly) return;
      this.set({ usedEchoes: [...this.state.usedEchoes, id], notice: `The echo is back, as pass ${length}` });
      if (place.patternId !== this.state.place.patternId) this.patterns.goTo(place);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.set({ notice: error.message });
    }
  }
}
