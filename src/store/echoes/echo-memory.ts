import { findLane } from "@/core/beat/lanes";
import type { Beat } from "@/core/beat/beat";
import { knownPart } from "@/core/beat/edit";
import type { PlacedStroke } from "@/core/record/placed-stroke";
import {
  forgottenCount,
  settledHits,
  splitEchoes,
  type Echo,
  type LookbackHit,
  type PlayedAlong,
} from "@/core/recover/echo";
import type { PlayedHit } from "@/inputs/played-hit";
import type { LookbackTable } from "../persistence/tables/lookback-table";
import { Controller, type WorkspaceStore } from "../state/controller";

/** What is not on disk yet is at most so old: writing more often would take time from playing and gain nothing. */
const CHUNK_MS = 250;
/** The list is made anew when nothing was played for so long. */
const SETTLED_MS = 400;
const ROOM_MADE =
  "The browser's room is full: the oldest playing was forgotten, and will be from now on whenever it must.";
const NO_ROOM = "The browser has no room: what is played now is remembered until the page is closed.";

/** Remembers all that is played, recorded or not, across reloads, and parts it into phrases. */
export class EchoMemory extends Controller {
  private hits: LookbackHit[] = [];
  private unsaved: LookbackHit[] = [];
  /** On its way to the disk. */
  private writing: readonly LookbackHit[] = [];
  private saveTimer: ReturnType<typeof setTimeout> | undefined;
  private listTimer: ReturnType<typeof setTimeout> | undefined;
  /** Strokes that are remembered without their place, as it is not known yet. */
  private readonly unplaced = new Set<LookbackHit>();
  private readonly said = new Set<string>();

  constructor(
    store: WorkspaceStore,
    private readonly lookback: LookbackTable,
  ) {
    super(store);
  }

  /** Fetches what was played before this page. */
  async open(): Promise<void> {
    const [before, marks] = await Promise.all([this.lookback.read(), this.lookback.readMarks()]);
    this.set({ joinedEchoes: new Set(marks.filter(({ kind }) => kind === "joined").map(({ id }) => id)) });
    this.hits = [...settledHits(before), ...this.hits];
    this.list();
  }

  /** A stroke of any device. @param placed where it belongs, while the loop runs @param recorded it is in the beat, too */
  note(hit: PlayedHit, placed: PlacedStroke | undefined, recorded: boolean): void {
    const made = this.lookbackHit({ ...hit, ...(placed && { along: alongOf(this.beat, placed, recorded) }) });
    if (!made) return;
    const isUnplaced = (one: LookbackHit) => this.unplaced.has(one) && isSameStroke(one, made);
    const known = this.unplaced.size > 0 ? this.hits.findLastIndex(isUnplaced) : -1;
    if (known >= 0) this.replace(known, made);
    else this.remember(made);
  }

  /** A stroke that waits for its place: it is kept meanwhile, and `note` says of it where it was played. */
  noteUnplaced(hit: PlayedHit): void {
    const made = this.lookbackHit(hit);
    if (!made) return;
    this.unplaced.add(made);
    this.remember(made);
  }

  /** A note was let go: how long it was held is remembered with it. */
  ended(partId: number, lane: number, timeMs: number): void {
    if (knownPart(this.beat, partId)?.kind !== "tonal") return;
    const endMs = performance.timeOrigin + timeMs;
    const at = this.hits.findLastIndex((one) => one.partId === partId && one.pad === lane && one.timeMs <= endMs);
    const hit = this.hits[at];
    if (!hit || hit.beatId !== this.beat.id || hit.lengthMs !== undefined) return;
    this.replace(at, { ...hit, lengthMs: endMs - hit.timeMs });
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

  /** The list as of now: strokes of this moment are in it, too. */
  refresh(): readonly Echo[] {
    this.list();
    return this.state.echoes;
  }

  /** Final: there is no undo. */
  async clear(): Promise<void> {
    this.hits = [];
    this.unsaved = [];
    this.unplaced.clear();
    this.set({ joinedEchoes: new Set() });
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
    if (kept !== "lost") return;
    // With what is played next it is tried again.
    this.unsaved = [...chunk, ...this.unsaved];
    this.sayOnce(NO_ROOM);
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
    await this.lookback.settled();
  }

  /** @returns undefined for what is not remembered */
  private lookbackHit(played: PlayedHit & Pick<LookbackHit, "along">): LookbackHit | undefined {
    const { lane, velocity, timeMs, device, masked, along, partId = this.state.patternRef.partId } = played;
    const part = knownPart(this.beat, partId);
    const note = part && findLane(part, lane)?.note;
    if (note === undefined || !this.state.settings.rememberPlaying) return undefined;
    return {
      timeMs: performance.timeOrigin + timeMs,
      pad: lane,
      note,
      velocity,
      device,
      beatId: this.beat.id,
      partId,
      ...(masked && { masked }),
      ...(along && { along }),
    };
  }

  private remember(hit: LookbackHit): void {
    this.hits.push(hit);
    this.unsaved.push(hit);
    this.saveSoon();
  }

  /** More is known of a stroke. What is on disk already is kept once more, and counts as it is then. */
  private replace(at: number, hit: LookbackHit): void {
    const before = this.hits[at]!;
    this.unplaced.delete(before);
    this.hits[at] = hit;
    this.unsaved = [...this.unsaved.filter((one) => one !== before), hit];
    this.saveSoon();
  }

  private saveSoon(): void {
    this.saveTimer ??= setTimeout(() => void this.flush(), CHUNK_MS);
    this.listSoon();
  }

  private listSoon(): void {
    clearTimeout(this.listTimer);
    this.listTimer = setTimeout(() => this.list(), SETTLED_MS);
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

function isSameStroke(one: LookbackHit, other: LookbackHit): boolean {
  return one.timeMs === other.timeMs && one.partId === other.partId && one.pad === other.pad;
}

function alongOf({ name, meter }: Beat, placed: PlacedStroke, recorded: boolean): PlayedAlong {
  const { patternRef, segment, span, bpm, lap, playedTicks, straightTicks, downbeatTicks } = placed;
  return {
    patternId: patternRef.patternId,
    run: performance.timeOrigin + segment,
    lap,
    lapTicks: span.lengthTicks,
    bpm,
    meter,
    beatName: name,
    ...(span.startTicks > 0 && { startTicks: span.startTicks }),
    playedTicks,
    ...(straightTicks !== undefined && { straightTicks }),
    ...(downbeatTicks !== undefined && { downbeatTicks }),
    ...(recorded && { recorded }),
  };
}

function without(ids: ReadonlySet<number>, id: number): ReadonlySet<number> {
  const left = new Set(ids);
  left.delete(id);
  return left;
}
