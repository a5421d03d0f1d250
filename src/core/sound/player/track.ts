import { barTicks, sameMeter } from "../../time/meter";
import { nextLoopLine } from "../../time/loop-span";
import { framesPerTick, secondsToTicks } from "../../time/tempo";
import type { Ticks, Seconds } from "../../time/ticks";
import { wrap } from "../../time/ticks";
import type { TransportAnchor } from "../../time/transport-anchor";
import { anchorFrameAt, anchorTicksAt } from "../../time/transport-anchor";
import { emptyTable, type EventTable } from "./event-table";
import { Bus } from "../mix/bus";
import { MAX_LANES } from "../signal/sound";
import { NoteRepeater, type NoteSink, type RepeatHold } from "./note-repeater";
import { SchedulePointer } from "./schedule-pointer";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { ceil, floor, max, min, round } = Math;

/** An event that a change moved behind the playhead still sounds, late, if it missed its time by no more than this. */
const LATE_LIMIT_SECONDS = 0.12;
/** A pattern without end, for notes that repeat while the transport is stopped. */
const ENDLESS_TICKS = 2 ** 40;
/** What repeats while the transport is stopped belongs to no run. */
export const NO_RUN = -1;

/** When a pattern gives way to the next. */
export type SwitchMoment = "lap" | "bar" | "now";

interface QueuedTable {
  table: EventTable;
  readonly segment: number;
  /** Where it takes over, in the positions of the one that is playing. */
  readonly atTicks: Ticks;
}

/** When a pattern that was called up takes over, as far as can be said now. */
export interface QueuedChange {
  readonly partId: number;
  readonly segment: number;
  /** Where, in the positions of the run that is playing, and which that is. */
  readonly atTicks: Ticks;
  readonly inSegment: number;
}

/** How the lanes of a part are heard, by lane. */
export interface LaneMix {
  /** Left and right: what sounds on a lane is multiplied by it. */
  readonly gains: Float32Array;
  /** What of that is sent into the room, amplitude. */
  readonly room: Float32Array;
  /** 1 where a lane is muted, or another one is soloed. */
  readonly muted: Uint8Array;
}

/** What a track asks of the player. */
export interface TrackHost {
  readonly sampleRate: number;
  /**
   * Sounds a lane in the track's bus.
   * @param heldFrames after so many it is let go; 0 where a hand holds it @param choked it is cut off then, whatever it is
   */
  strike(
    track: Track,
    lane: number,
    velocity: number,
    variant: number,
    frame: number,
    heldFrames: number,
    choked: boolean,
  ): void;
  anchored(anchor: TransportAnchor): void;
  queued(change: QueuedChange): void;
  repeated(track: Track): NoteSink;
  /** The place in what is played is another one than that after the one before. */
  jumped(track: Track, ticks: Ticks): void;
  /** So many laps of what was played are over. */
  lapsDone(track: Track, laps: number): void;
  /** Where the transport stops, in the positions of what the track plays; Infinity where it runs on. */
  stopTicks(track: Track): number;
  /** What goes along with a stretch of what is played, up to a frame and a place. */
  alongside(track: Track, endFrame: number, untilTicks: number): void;
}

/**
 * One part's way through its patterns: what it plays, what it goes on with, and what is repeated in it. All positions come
 * from its anchor, and every event knows the lap in which it sounds next, so that a table that is swapped in the middle of a
 * lap neither skips nor repeats a hit.
 */
export class Track {
  readonly bus = new Bus();
  readonly repeater = new NoteRepeater();
  private readonly silenced = new Uint8Array(MAX_LANES);
  private readonly muted = new Uint8Array(MAX_LANES);
  private readonly sink: NoteSink;
  private schedule = new SchedulePointer();
  /** The same for the pattern that is queued: what it has ahead of its downbeat sounds before it takes over. */
  private upcoming = new SchedulePointer();
  private freeAnchor: TransportAnchor | undefined;
  private freeTable: EventTable;
  private queued: QueuedTable | undefined;
  anchor: TransportAnchor | undefined;

  constructor(
    public table: EventTable,
    private readonly host: TrackHost,
  ) {
    this.freeTable = table;
    this.sink = host.repeated(this);
  }

  get partId(): number {
    return this.table.partId;
  }

  /** Events of these lanes make no sound: they are being erased. Strokes and repeats do. */
  silence(lanes: readonly number[]): void {
    this.silenced.fill(0);
    for (const lane of lanes) this.silenced[lane] = 1;
  }

  /** How loud its lanes are, and which of them play nothing but what is being recorded; strokes and repeats are heard. */
  setMix({ gains, room, muted }: LaneMix): void {
    this.bus.gains.set(gains);
    this.bus.room.set(room);
    this.muted.set(muted);
  }

  start(segment: number, fromTicks: Ticks, frame: number): void {
    this.queued = undefined;
    this.setAnchor(segment, fromTicks, frame, this.table);
    this.schedule.start(this.table, segment, fromTicks);
    this.jump(fromTicks);
  }

  stop(): void {
    this.anchor = undefined;
    this.freeAnchor = undefined;
    if (this.queued) this.table = this.queued.table;
    this.queued = undefined;
    this.repeater.jump();
  }

  /** Holds a lane while notes repeat; with the transport stopped the first one begins a beat of its own. */
  hold(hold: RepeatHold, frame: number): void {
    if (!this.anchor && !this.repeater.busy) {
      const { partId, bpm, meter } = this.table;
      this.freeTable = { ...emptyTable(bpm, meter, ENDLESS_TICKS as Ticks), partId };
      const { patternId, span } = this.freeTable;
      this.freeAnchor = { segment: NO_RUN, frame, ticks: 0 as Ticks, bpm, partId, patternId, span };
      this.repeater.jump();
    }
    this.repeater.hold(hold);
  }

  /**
   * Replaces what is played of its pattern, in the middle of a lap if need be; tempo and length may change with it. While
   * running, a table of a pattern that is neither playing nor queued is out of date and left alone.
   */
  setTable(table: EventTable, frame: number): void {
    const { anchor, table: before, queued } = this;
    if (anchor && table.patternId !== before.patternId) {
      if (queued && table.patternId === queued.table.patternId) this.setQueuedTable(anchor, queued, table, frame);
      return;
    }
    if (anchor) this.moveTo(anchor, before, table, frame);
    else if (this.freeAnchor && table.bpm !== before.bpm) {
      const ticks = anchorTicksAt(this.freeAnchor, frame, this.host.sampleRate);
      this.freeAnchor = { ...this.freeAnchor, frame, ticks, bpm: table.bpm };
    }
    this.table = table;
  }

  /** Lets another pattern take over at a musical moment; the last one that was asked for counts. */
  queueTable(table: EventTable, segment: number, moment: SwitchMoment, frame: number): void {
    const { anchor } = this;
    if (!anchor) {
      this.table = table;
      return;
    }
    const now = this.at(anchor, frame);
    const { meter, span } = this.table;
    if (moment === "now") {
      const position = (now < 0 ? now : wrap(now, table.span.lengthTicks)) as Ticks;
      this.host.lapsDone(this, floor(max(0, now) / span.lengthTicks));
      this.startSchedule(table, segment, position);
      this.enter(table, segment, position, frame);
      return;
    }
    const lap = this.lapEnd(anchor, frame);
    const bar = nextLoopLine((floor(now) + 1) as Ticks, barTicks(meter), barTicks(meter), span);
    this.setQueued(anchor, { table, segment, atTicks: (moment === "bar" ? min(bar, lap) : lap) as Ticks }, frame);
  }

  /** Lets another pattern take over at a place of what is playing. */
  queueTableAt(table: EventTable, segment: number, atTicks: Ticks, frame: number): void {
    if (this.anchor) this.setQueued(this.anchor, { table, segment, atTicks }, frame);
  }

  /** When the lap ends that is playing at a frame; undefined while stopped. */
  lapEndFrame(frame: number): number | undefined {
    return this.anchor && anchorFrameAt(this.anchor, this.lapEnd(this.anchor, frame), this.host.sampleRate);
  }

  /** Takes back what was queued as that run, unless it has taken over already. */
  unqueue(segment: number): void {
    if (this.queued?.segment === segment) this.queued = undefined;
  }

  /**
   * Starts what sounds before `endFrame`; one block may hold the end of a pattern and the start of the next. What leads into
   * a bar behind the transport's stop is silent.
   */
  advance(frame: number, endFrame: number): void {
    if (!this.anchor && this.freeAnchor) return this.repeat(this.freeAnchor, frame, endFrame, Infinity);
    while (this.anchor) {
      const { anchor, queued } = this;
      const stop = this.host.stopTicks(this);
      const until = min(stop, queued?.atTicks ?? Infinity);
      this.playEvents(anchor, frame, endFrame, until);
      if (queued && queued.atTicks < stop) this.playUpcoming(anchor, queued, frame, endFrame);
      this.host.alongside(this, endFrame, until);
      this.repeat(anchor, frame, endFrame, until);
      if (!queued || until === stop) return;
      const untilFrame = anchorFrameAt(anchor, queued.atTicks, this.host.sampleRate);
      if (round(untilFrame) >= endFrame) return;
      this.host.lapsDone(this, ceil(queued.atTicks / this.table.span.lengthTicks));
      [this.schedule, this.upcoming] = [this.upcoming, this.schedule];
      this.enter(queued.table, queued.segment, 0 as Ticks, untilFrame);
    }
  }

  private lapEnd(anchor: TransportAnchor, frame: number): Ticks {
    const { lengthTicks } = this.table.span;
    return max(0, (floor(this.at(anchor, frame) / lengthTicks) + 1) * lengthTicks) as Ticks;
  }

  private playEvents(anchor: TransportAnchor, fromFrame: number, endFrame: number, untilTicks: number): void {
    const { schedule, table } = this;
    if (schedule.overdue.length > 0) this.playOverdue(schedule, table, this.at(anchor, fromFrame), fromFrame);
    for (;;) {
      const ticks = schedule.nextTicks;
      if (ticks >= untilTicks) return;
      const frame = round(anchorFrameAt(anchor, ticks, this.host.sampleRate));
      if (frame >= endFrame) return;
      const index = schedule.next();
      if (index >= 0 && happens(table, index, ticks, untilTicks)) this.playEvent(table, index, max(frame, fromFrame));
    }
  }

  /** What the next pattern has ahead of its first downbeat. */
  private playUpcoming(
    anchor: TransportAnchor,
    { table, atTicks }: QueuedTable,
    fromFrame: number,
    endFrame: number,
  ): void {
    const { upcoming } = this;
    if (upcoming.overdue.length > 0) this.playOverdue(upcoming, table, this.at(anchor, fromFrame) - atTicks, fromFrame);
    const boundary = anchorFrameAt(anchor, atTicks, this.host.sampleRate);
    for (;;) {
      const ticks = upcoming.nextTicks;
      if (ticks >= 0) return;
      const frame = round(boundary + ticks * framesPerTick(table.bpm, this.host.sampleRate));
      if (frame >= endFrame) return;
      const index = upcoming.next();
      if (index >= 0) this.playEvent(table, index, max(frame, fromFrame));
    }
  }

  /** What has just missed its time sounds at once; what missed it by more waits for its next lap. */
  private playOverdue(schedule: SchedulePointer, table: EventTable, now: number, frame: number): void {
    for (let index = 0; index < schedule.overdue.length; index++) {
      schedule.finishOverdue(schedule.overdue[index]!, now);
      this.playEvent(table, schedule.overdue[index]!, frame);
    }
    schedule.overdue.length = 0;
  }

  private playEvent(table: EventTable, index: number, frame: number): void {
    const { lanes, velocities, variants, lengthTicks, choked, bpm } = table;
    const lane = lanes[index]!;
    if (this.silenced[lane] !== 0 || (this.muted[lane] !== 0 && table.always[index] === 0)) return;
    const heldFrames = lengthTicks[index]! * framesPerTick(bpm, this.host.sampleRate);
    this.host.strike(this, lane, velocities[index]!, variants[index]!, frame, heldFrames, choked[index] !== 0);
  }

  private repeat(anchor: TransportAnchor, frame: number, endFrame: number, untilTicks: number): void {
    if (!this.repeater.busy) return;
    const table = anchor === this.freeAnchor ? this.freeTable : this.table;
    this.repeater.play(anchor, table, this.host.sampleRate, frame, endFrame, untilTicks, this.sink);
  }

  private moveTo(anchor: TransportAnchor, before: EventTable, table: EventTable, frame: number): void {
    const now = this.at(anchor, frame);
    const { lengthTicks } = before.span;
    const sameSpan = isSameSpan(before, table);
    // The place in the pattern is kept where the new loop has it.
    const inPattern = wrap(now, lengthTicks) + before.span.startTicks - table.span.startTicks;
    const position = (sameSpan || now < 0 ? now : wrap(inPattern, table.span.lengthTicks)) as Ticks;
    if (!sameSpan) this.host.lapsDone(this, floor(max(0, now) / lengthTicks));
    if (sameSpan) this.schedule.swap(table, position, lateTicks(table));
    else this.startSchedule(table, anchor.segment, position);
    this.table = table;
    if (table.bpm !== before.bpm || !sameSpan) this.setAnchor(anchor.segment, position, frame, table);
    if (this.queued && !sameSpan)
      this.setQueued(this.anchor!, { ...this.queued, atTicks: table.span.lengthTicks }, frame);
    if (position !== now || !sameMeter(before.meter, table.meter)) this.host.jumped(this, position);
    if (!sameSpan) this.repeater.jump();
  }

  /** Goes on with what is rounded to the frame that the position is of. */
  private startSchedule(table: EventTable, segment: number, position: number): void {
    this.schedule.start(table, segment, position - 0.5 / framesPerTick(table.bpm, this.host.sampleRate));
  }

  private setQueued(anchor: TransportAnchor, queued: QueuedTable, frame: number): void {
    this.queued = queued;
    this.leadIn(anchor, queued, frame);
    this.host.queued({
      partId: this.partId,
      segment: queued.segment,
      atTicks: queued.atTicks,
      inSegment: anchor.segment,
    });
  }

  /** What is called up when its lead has begun already still has what it just missed. */
  private leadIn(anchor: TransportAnchor, { table, segment, atTicks }: QueuedTable, frame: number): void {
    const since = this.at(anchor, frame) - atTicks - lateTicks(table);
    this.upcoming.start(table, segment, max(-table.span.lengthTicks, since));
  }

  private setQueuedTable(anchor: TransportAnchor, queued: QueuedTable, table: EventTable, frame: number): void {
    const before = queued.table;
    queued.table = table;
    if (isSameSpan(before, table)) this.upcoming.swap(table, this.at(anchor, frame) - queued.atTicks, lateTicks(table));
    else this.leadIn(anchor, queued, frame);
  }

  private enter(table: EventTable, segment: number, ticks: Ticks, frame: number): void {
    this.queued = undefined;
    this.table = table;
    this.setAnchor(segment, ticks, frame, table);
    this.jump(ticks);
  }

  private jump(ticks: Ticks): void {
    this.host.jumped(this, ticks);
    this.repeater.jump();
  }

  private at(anchor: TransportAnchor, frame: number): Ticks {
    return anchorTicksAt(anchor, frame, this.host.sampleRate);
  }

  private setAnchor(segment: number, ticks: Ticks, frame: number, table: EventTable): void {
    const { bpm, partId, patternId, span } = table;
    this.anchor = { segment, frame, ticks, bpm, partId, patternId, span };
    this.host.anchored(this.anchor);
  }
}

function lateTicks({ bpm }: EventTable): Ticks {
  return secondsToTicks(LATE_LIMIT_SECONDS as Seconds, bpm);
}

function isSameSpan(a: EventTable, b: EventTable): boolean {
  return a.span.lengthTicks === b.span.lengthTicks && a.span.startTicks === b.span.startTicks;
}

/** What leads into a bar that will not be played is not played either. */
function happens({ leads, meter, span }: EventTable, index: number, ticks: Ticks, untilTicks: number): boolean {
  if (leads[index] === 0 || untilTicks === Infinity) return true;
  return nextLoopLine(ticks, barTicks(meter), barTicks(meter), span) < untilTicks;
}
