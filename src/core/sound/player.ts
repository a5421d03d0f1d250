import { barTicks, sameMeter } from "../time/meter";
import { nextLoopLine } from "../time/loop-span";
import { framesPerTick, secondsToTicks } from "../time/tempo";
import type { Seconds, Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import type { TransportAnchor } from "../time/transport-anchor";
import { anchorFrameAt, anchorTicksAt } from "../time/transport-anchor";
import type { ClickSamples } from "./click";
import { renderClick } from "./click";
import { clickSound, nextClickTicks, SILENT_CLICK, type ClickSettings } from "./click-track";
import { emptyTable, firstTicks, type EventTable } from "./event-table";
import type { DrumSamples, Kit } from "./kit";
import { LAYER_GAINS, layerFor } from "./kit";
import { Limiter } from "./limiter";
import { Mixer } from "./mixer";
import { NoteRepeater, type NoteSink, type RepeatedNote, type RepeatHold } from "./note-repeater";
import { SchedulePointer } from "./schedule-pointer";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { ceil, floor, max, min, round } = Math;

/** An event that a change moved behind the playhead still sounds, late, if it missed its time by no more than this. */
const LATE_LIMIT_SECONDS = 0.12;
/** Pads have the ids 0..127. */
const MAX_PADS = 128;
/** A pattern without end, for notes that repeat while the transport is stopped. */
const ENDLESS_TICKS = 2 ** 40;
/** What repeats while the transport is stopped belongs to no run. */
const NO_RUN = -1;

/** How a run begins. */
export interface PlayerStart {
  readonly run: number;
  /** Where it begins; before the first downbeat when negative. */
  readonly fromTicks: Ticks;
  /** The frame at which that was, when it is not the next one: a run that a stroke began has begun with the stroke. */
  readonly frame?: number;
  /** The click sounds up to the first downbeat, whether it is on or not. */
  readonly countIn: boolean;
  /** Stops the transport at the end of that lap, while tails ring on; without it, it runs. */
  readonly laps?: number;
}

/** When a pattern gives way to the next. */
export type SwitchMoment = "lap" | "bar" | "now";

interface QueuedTable {
  table: EventTable;
  readonly run: number;
  /** Where it takes over, in the positions of the one that is playing. */
  readonly atTicks: Ticks;
}

/** When a pattern that was called up takes over, as far as can be said now. */
export interface QueuedChange {
  readonly run: number;
  /** Where, in the positions of the run that is playing, and which that is. */
  readonly atTicks: Ticks;
  readonly inRun: number;
}

/** What the player tells its host; each is called while a block is made or a message taken. */
export interface PlayerEvents {
  anchor(anchor: TransportAnchor): void;
  queued(change: QueuedChange): void;
  /** The transport came to the end of its last lap by itself. */
  ended(run: number): void;
  repeated(note: RepeatedNote): void;
}

const NOBODY: PlayerEvents = { anchor() {}, queued() {}, ended() {}, repeated() {} };

/**
 * Transport, click, loop playback, note repeat and voices, driven block by block; the same object runs in the audio thread
 * and in renders. All positions come from the anchor, and every event knows the lap in which it sounds next, so that a
 * table that is swapped in the middle of a lap neither skips nor repeats a hit.
 */
export class Player {
  readonly mixer: Mixer;
  readonly repeater = new NoteRepeater();
  private readonly limiter: Limiter;
  private readonly clickSamples: ClickSamples;
  private readonly silencedPads = new Uint8Array(MAX_PADS);
  private frame = 0;
  private kit: Kit | undefined;
  private table: EventTable;
  private schedule = new SchedulePointer();
  /** The same for the pattern that is queued: what it has ahead of its downbeat sounds before it takes over. */
  private upcoming = new SchedulePointer();
  private anchor: TransportAnchor | undefined;
  private freeAnchor: TransportAnchor | undefined;
  private freeTable: EventTable;
  private queued: QueuedTable | undefined;
  private lapsLeft = Infinity;
  private countIn = false;
  private nextClick = 0 as Ticks;
  private click: ClickSettings = SILENT_CLICK;
  private variant = 0;

  constructor(
    readonly sampleRate: number,
    table: EventTable,
    private readonly events: PlayerEvents = NOBODY,
  ) {
    this.table = table;
    this.freeTable = table;
    this.mixer = new Mixer(sampleRate);
    this.limiter = new Limiter(sampleRate);
    this.clickSamples = renderClick(sampleRate);
  }

  get playing(): EventTable {
    return this.table;
  }

  get running(): boolean {
    return this.anchor !== undefined;
  }

  setKit(kit: Kit): void {
    this.kit = kit;
  }

  /** One drum of a kit that is still being made; the others are silent until they come. */
  setDrum(drum: number, samples: DrumSamples): void {
    const drums = [...(this.kit?.drums ?? [])];
    drums[drum] = samples;
    this.kit = { sampleRate: this.sampleRate, drums };
  }

  setClick(click: ClickSettings): void {
    const otherLines = click.subdivisionTicks !== this.click.subdivisionTicks;
    this.click = click;
    if (otherLines && this.anchor) this.findClick(anchorTicksAt(this.anchor, this.frame, this.sampleRate));
  }

  /** Events of these pads make no sound: they are being erased. Strokes and repeats do. */
  silence(pads: readonly number[]): void {
    this.silencedPads.fill(0);
    for (const pad of pads) this.silencedPads[pad] = 1;
  }

  /** The next block begins here; hosts with a clock of their own keep it in step. */
  seek(frame: number): void {
    this.frame = frame;
  }

  start({ run, fromTicks, frame = this.frame, countIn, laps = Infinity }: PlayerStart): void {
    this.lapsLeft = laps;
    this.countIn = countIn;
    this.queued = undefined;
    this.setAnchor(run, fromTicks, frame, this.table);
    this.schedule.start(this.table, run, fromTicks);
    this.findClick(fromTicks);
    this.repeater.jump();
  }

  stop(): void {
    this.anchor = undefined;
    this.freeAnchor = undefined;
    if (this.queued) this.table = this.queued.table;
    this.queued = undefined;
    this.repeater.jump();
  }

  /** Sounds a stroke with the next block. @param cutSeconds after so long it is cut off; 0 lets it ring */
  hit(drum: number, velocity: number, cutSeconds = 0): void {
    this.variant++;
    this.startDrum(drum, velocity, this.variant, this.frame, cutSeconds * this.sampleRate);
  }

  choke(drum: number): void {
    this.mixer.chokeDrum(drum, this.frame);
  }

  /** Holds a pad while notes repeat; with the transport stopped the first one begins a beat of its own. */
  hold(hold: RepeatHold): void {
    if (!this.anchor && !this.repeater.busy) {
      const { bpm, meter } = this.table;
      this.freeTable = emptyTable(bpm, meter, ENDLESS_TICKS as Ticks);
      const { patternId, span } = this.freeTable;
      this.freeAnchor = { run: NO_RUN, frame: this.frame, ticks: 0 as Ticks, bpm, patternId, span };
      this.repeater.jump();
    }
    this.repeater.hold(hold);
  }

  /**
   * Replaces what is played of its pattern, in the middle of a lap if need be; tempo and length may change with it. While
   * running, a table of a pattern that is neither playing nor queued is out of date and left alone.
   */
  setTable(table: EventTable): void {
    const { anchor, table: before, queued } = this;
    if (anchor && table.patternId !== before.patternId) {
      if (queued && table.patternId === queued.table.patternId) this.setQueuedTable(anchor, queued, table);
      return;
    }
    if (anchor) this.moveTo(anchor, before, table);
    else if (this.freeAnchor && table.bpm !== before.bpm) {
      const ticks = anchorTicksAt(this.freeAnchor, this.frame, this.sampleRate);
      this.freeAnchor = { ...this.freeAnchor, frame: this.frame, ticks, bpm: table.bpm };
    }
    this.table = table;
  }

  /** Lets another pattern take over at a musical moment; the last one that was asked for counts. */
  queueTable(table: EventTable, run: number, moment: SwitchMoment): void {
    const { anchor } = this;
    if (!anchor) {
      this.table = table;
      return;
    }
    const now = anchorTicksAt(anchor, this.frame, this.sampleRate);
    const { meter, span } = this.table;
    if (moment === "now") {
      const position = now < 0 ? now : wrap(now, table.span.lengthTicks);
      this.countLaps(floor(max(0, now) / span.lengthTicks));
      this.takeOver(table, run, position as Ticks, this.frame);
      return;
    }
    const lap = max(0, (floor(now / span.lengthTicks) + 1) * span.lengthTicks);
    const bar = nextLoopLine((floor(now) + 1) as Ticks, barTicks(meter), barTicks(meter), span);
    this.setQueued(anchor, { table, run, atTicks: (moment === "bar" ? min(bar, lap) : lap) as Ticks });
  }

  /** Takes back what was queued as that run, unless it has taken over already. */
  unqueue(run: number): void {
    if (this.queued?.run === run) this.queued = undefined;
  }

  /** Fills a block. @returns true when the limiter had to work */
  process(left: Float32Array, right: Float32Array): boolean {
    left.fill(0);
    right.fill(0);
    const end = this.frame + left.length;
    if (this.anchor) this.advance(end);
    else if (this.freeAnchor) this.repeat(this.freeAnchor, end, Infinity);
    this.mixer.addTo(left, right, this.frame);
    this.frame += left.length;
    return this.limiter.process(left, right);
  }

  /** Starts what sounds before `end`; one block may hold the end of a pattern and the start of the next. */
  private advance(end: number): void {
    while (this.anchor) {
      const { anchor, queued } = this;
      const stopTicks = this.lapsLeft * this.table.span.lengthTicks;
      const until = min(stopTicks, queued?.atTicks ?? Infinity);
      this.playEvents(anchor, end, until);
      if (queued && queued.atTicks < stopTicks) this.playUpcoming(anchor, queued, end);
      this.playClick(anchor, end, until);
      this.repeat(anchor, end, until);
      const untilFrame = anchorFrameAt(anchor, until as Ticks, this.sampleRate);
      if (round(untilFrame) >= end || until === Infinity) return;
      if (until === stopTicks) {
        this.stop();
        this.events.ended(anchor.run);
      } else {
        this.countLaps(ceil(queued!.atTicks / this.table.span.lengthTicks));
        this.takeOverQueued(queued!, untilFrame);
      }
    }
  }

  private playEvents(anchor: TransportAnchor, endFrame: number, untilTicks: number): void {
    const { schedule, table } = this;
    if (schedule.overdue.length > 0) this.playOverdue(schedule, table, this.now(anchor));
    for (;;) {
      const ticks = schedule.nextTicks;
      if (ticks >= untilTicks) return;
      const frame = round(anchorFrameAt(anchor, ticks, this.sampleRate));
      if (frame >= endFrame) return;
      const index = schedule.next();
      if (index >= 0 && happens(table, index, ticks, untilTicks)) this.playEvent(table, index, max(frame, this.frame));
    }
  }

  /** What the next pattern has ahead of its first downbeat. */
  private playUpcoming(anchor: TransportAnchor, { table, atTicks }: QueuedTable, endFrame: number): void {
    const { upcoming } = this;
    if (upcoming.overdue.length > 0) this.playOverdue(upcoming, table, this.now(anchor) - atTicks);
    const boundary = anchorFrameAt(anchor, atTicks, this.sampleRate);
    for (;;) {
      const ticks = upcoming.nextTicks;
      if (ticks >= 0) return;
      const frame = round(boundary + ticks * framesPerTick(table.bpm, this.sampleRate));
      if (frame >= endFrame) return;
      const index = upcoming.next();
      if (index >= 0) this.playEvent(table, index, max(frame, this.frame));
    }
  }

  /** What has just missed its time sounds at once; what missed it by more waits for its next lap. */
  private playOverdue(schedule: SchedulePointer, table: EventTable, now: number): void {
    for (let index = 0; index < schedule.overdue.length; index++) {
      schedule.finishOverdue(schedule.overdue[index]!, now);
      this.playEvent(table, schedule.overdue[index]!, this.frame);
    }
    schedule.overdue.length = 0;
  }

  private playEvent(table: EventTable, index: number, frame: number): void {
    const { pads, drums, velocities, variants, cutTicks, bpm } = table;
    if (this.silencedPads[pads[index]!] !== 0) return;
    const cutFrames = cutTicks[index]! * framesPerTick(bpm, this.sampleRate);
    this.startDrum(drums[index]!, velocities[index]!, variants[index]!, frame, cutFrames);
  }

  private playClick(anchor: TransportAnchor, endFrame: number, untilTicks: number): void {
    for (;;) {
      const ticks = this.nextClick;
      const frame = round(anchorFrameAt(anchor, ticks, this.sampleRate));
      if (frame >= endFrame || ticks >= untilTicks) return;
      this.findClick((ticks + 1) as Ticks);
      if ((this.click.on || (this.countIn && ticks < 0)) && frame >= this.frame) {
        const samples = clickSound(this.table, this.click, ticks, this.clickSamples);
        this.mixer.start(samples, this.click.gain, this.click.gain, frame);
      }
    }
  }

  private repeat(anchor: TransportAnchor, endFrame: number, untilTicks: number): void {
    if (!this.repeater.busy) return;
    const table = anchor === this.freeAnchor ? this.freeTable : this.table;
    this.repeater.play(anchor, table, this.sampleRate, this.frame, endFrame, untilTicks, this.playRepeated);
  }

  /** Made once: the audio thread should not make functions. */
  private readonly playRepeated: NoteSink = ({ pad, drum }, velocity, line, frame) => {
    const { anchor, repeater } = this;
    this.variant++;
    this.startDrum(drum, velocity, this.variant, frame, 0);
    const lineTicks = anchor ? line : undefined;
    this.events.repeated({
      pad,
      velocity,
      lineTicks,
      run: anchor?.run ?? NO_RUN,
      frame,
      stepTicks: repeater.stepTicks,
    });
  };

  private startDrum(drum: number, velocity: number, variant: number, frame: number, cutFrames: number): void {
    const source = this.kit?.drums[drum];
    if (!source) return;
    const variants = source.layers[layerFor(velocity)]!;
    const gain = LAYER_GAINS[velocity]!;
    this.mixer.start(
      variants[variant % variants.length]!,
      gain * source.gainLeft,
      gain * source.gainRight,
      frame,
      source.chokeGroup,
      drum,
      round(cutFrames),
    );
  }

  private moveTo(anchor: TransportAnchor, before: EventTable, table: EventTable): void {
    const now = this.now(anchor);
    const { lengthTicks } = before.span;
    const sameSpan = isSameSpan(before, table);
    // The place in the pattern is kept where the new loop has it.
    const inPattern = wrap(now, lengthTicks) + before.span.startTicks - table.span.startTicks;
    const position = sameSpan || now < 0 ? now : wrap(inPattern, table.span.lengthTicks);
    if (!sameSpan) this.countLaps(floor(max(0, now) / lengthTicks));
    if (table.bpm !== before.bpm || !sameSpan) this.setAnchor(anchor.run, position as Ticks, this.frame, table);
    if (sameSpan) this.schedule.swap(table, position, lateTicks(table));
    else this.schedule.start(table, anchor.run, position);
    this.table = table;
    if (this.queued && !sameSpan) this.setQueued(this.anchor!, { ...this.queued, atTicks: table.span.lengthTicks });
    if (position !== now || !sameMeter(before.meter, table.meter)) this.findClick(position as Ticks);
    if (!sameSpan) this.repeater.jump();
  }

  private setQueued(anchor: TransportAnchor, queued: QueuedTable): void {
    this.queued = queued;
    this.leadIn(anchor, queued);
    this.events.queued({ run: queued.run, atTicks: queued.atTicks, inRun: anchor.run });
  }

  /** What is called up when its lead has begun already still has what it just missed. */
  private leadIn(anchor: TransportAnchor, { table, run, atTicks }: QueuedTable): void {
    this.upcoming.start(table, run, max(-table.span.lengthTicks, this.now(anchor) - atTicks - lateTicks(table)));
  }

  private setQueuedTable(anchor: TransportAnchor, queued: QueuedTable, table: EventTable): void {
    const before = queued.table;
    queued.table = table;
    if (isSameSpan(before, table)) this.upcoming.swap(table, this.now(anchor) - queued.atTicks, lateTicks(table));
    else this.leadIn(anchor, queued);
  }

  private takeOverQueued({ table, run }: QueuedTable, frame: number): void {
    [this.schedule, this.upcoming] = [this.upcoming, this.schedule];
    this.enter(table, run, 0 as Ticks, frame);
  }

  private takeOver(table: EventTable, run: number, ticks: Ticks, frame: number): void {
    this.schedule.start(table, run, ticks);
    this.enter(table, run, ticks, frame);
  }

  private enter(table: EventTable, run: number, ticks: Ticks, frame: number): void {
    this.queued = undefined;
    this.table = table;
    this.setAnchor(run, ticks, frame, table);
    this.findClick(ticks);
    this.repeater.jump();
  }

  private now(anchor: TransportAnchor): Ticks {
    return anchorTicksAt(anchor, this.frame, this.sampleRate);
  }

  private countLaps(done: number): void {
    this.lapsLeft = max(1, this.lapsLeft - done);
  }

  private findClick(position: Ticks): void {
    this.nextClick = nextClickTicks(this.table, this.click, position);
  }

  private setAnchor(run: number, ticks: Ticks, frame: number, { bpm, patternId, span }: EventTable): void {
    this.anchor = { run, frame, ticks, bpm, patternId, span };
    this.events.anchor(this.anchor);
  }
}

/** Where a run begins: whole bars of count-in, or with what sounds ahead of the first downbeat. */
export function startTicks(table: EventTable, countInBars: number): Ticks {
  return countInBars > 0 ? ((-countInBars * barTicks(table.meter)) as Ticks) : firstTicks(table);
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
