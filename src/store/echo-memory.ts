import { findPart } from "@/core/beat/edit";
import { overFeel } from "@/core/record/record-stroke";
import { placeStroke } from "@/core/record/place-stroke";
import { forgottenCount, splitEchoes, type Echo, type LookbackHit } from "@/core/recover/echo";
import type { RepeatedNote } from "@/core/sound/note-repeater";
import { barTicks } from "@/core/time/meter";
import { gridOfTicks, type LineGridName } from "@/core/time/grid";
import type { Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import type { PlayedHit } from "@/inputs/played-hit";
import type { EchoMarkRecord } from "./database";
import type { LookbackStore } from "./lookback-store";
import type { Playback } from "./playback";
import { WorkspacePart, type WorkspaceStore } from "./workspace-part";

/** What is not on disk yet is at most so old. */
const CHUNK_MS = 1000;
/** The list is made anew when nothing was played for so long. */
const SETTLED_MS = 400;
const ROOM_MADE =
  "The browser's room is full: the oldest playing was forgotten, and will be from now on whenever it must.";
const NO_ROOM = "The browser has no room: what is played now is remembered until the page is closed.";

/** Remembers all that is played, recorded or not, across reloads, and parts it into phrases. */
export class EchoMemory extends WorkspacePart {
  private hits: LookbackHit[] = [];
  private unsaved: LookbackHit[] = [];
  /** On its way to the disk. */
  private writing: readonly LookbackHit[] = [];
  private saveTimer: ReturnType<typeof setTimeout> | undefined;
  private listTimer: ReturnType<typeof setTimeout> | undefined;
  private readonly said = new Set<string>();

  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
    private readonly lookback: LookbackStore,
  ) {
    super(store);
  }

  /** Fetches what was played before this page. */
  async open(): Promise<void> {
    const [before, marks] = await Promise.all([this.lookback.read(), this.lookback.readMarks()]);
    const idsOf = (kind: EchoMarkRecord["kind"]) =>
      new Set(marks.filter((mark) => mark.kind === kind).map(({ id }) => id));
    this.set({ usedEchoes: idsOf("used"), joinedEchoes: idsOf("joined") });
    this.hits = [...before, ...this.hits];
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

  /** @param patience how much longer than usual a pause must be to part two echoes */
  setPatience(patience: number): void {
    this.set({ echoPatience: patience });
    this.list();
  }

  /** Lets an echo go on the one before it, or parts them again. */
  join({ id }: Echo, joined: boolean): void {
    const { joinedEchoes } = this.state;
    this.set({ joinedEchoes: joined ? new Set([...joinedEchoes, id]) : without(joinedEchoes, id) });
    void (joined ? this.lookback.mark({ id, kind: "joined" }) : this.lookback.unmark({ id, kind: "joined" }));
    this.list();
  }

  markUsed({ id }: Echo): void {
    this.set({ usedEchoes: new Set([...this.state.usedEchoes, id]) });
    void this.lookback.mark({ id, kind: "used" });
  }

  /** The list as of now: strokes of this moment are in it, too. */
  refresh(): readonly Echo[] {
    this.list();
    return this.state.echoes;
  }

  /** Final: there is no undo. */
  async clear(): Promise<void> {
    this.hits = [];
    this.unsaved = [];
    this.set({ usedEchoes: new Set(), joinedEchoes: new Set() });
    this.list();
    await this.lookback.clear();
  }

  async flush(): Promise<void> {
    clearTimeout(this.saveTimer);
    this.saveTimer = undefined;
    const chunk = this.unsaved;
    this.unsaved = [];
    if (chunk.length === 0) return;
    this.writing = [...this.writing, ...chunk];
    const kept = await this.lookback.add(chunk);
    this.writing = this.writing.slice(chunk.length);
    if (kept === "room made") this.sayOnce(ROOM_MADE);
    if (kept === "lost") this.sayOnce(NO_ROOM);
  }

  /** For a page that the browser takes away: its store answers too late. */
  leave(): void {
    const pending = [...this.writing, ...this.unsaved];
    if (pending.length > 0) this.lookback.leave(pending);
    void this.flush();
  }

  /** What is not on disk yet goes there, and nothing more is worked out. */
  async close(): Promise<void> {
    clearTimeout(this.listTimer);
    await this.flush();
  }

  private remember({ pad, velocity, timeMs, device, masked, along }: PlayedHit & Pick<LookbackHit, "along">): void {
    const { partId } = this.state.place;
    const note = findPart(this.beat, partId).pads.find(({ id }) => id === pad)?.note;
    if (note === undefined || !this.state.settings.rememberPlaying) return;
    const hit: LookbackHit = {
      timeMs: performance.timeOrigin + timeMs,
      pad,
      note,
      velocity,
      device,
      beatId: this.beat.id,
      partId,
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
    { patternId, span, run, bpm }: TransportAnchor,
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
      patternId,
      run: performance.timeOrigin + run,
      lap: at.lap,
      lapTicks: span.lengthTicks,
      bpm,
      ...overFeel(this.beat, place, stroke, at.playedTicks),
      ...(this.state.transport.writing === "record" && { recorded: true as const }),
    };
  }

  private list(): void {
    // Two devices with delays of their own may bring strokes in another order than they were made in.
    this.hits.sort((a, b) => a.timeMs - b.timeMs);
    const nowMs = performance.timeOrigin + performance.now();
    const forgotten = forgottenCount(
      this.hits.map(({ timeMs }) => timeMs),
      nowMs,
    );
    if (forgotten > 0) this.hits = this.hits.slice(forgotten);
    this.set({ echoes: splitEchoes(this.hits, this.state.echoPatience, this.state.joinedEchoes) });
  }

  private sayOnce(notice: string): void {
    if (this.said.has(notice)) return;
    this.said.add(notice);
    this.set({ notice });
  }
}

function without(ids: ReadonlySet<number>, id: number): ReadonlySet<number> {
  const left = new Set(ids);
  left.delete(id);
  return left;
}
