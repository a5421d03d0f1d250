import { barTicks, pulseTicks } from "../time/meter";
import { secondsToTicks } from "../time/tempo";
import type { Frames, Seconds, Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import type { TransportAnchor } from "../time/transport-anchor";
import { anchorFrameAt, anchorTicksAt } from "../time/transport-anchor";
import type { ClickSamples } from "./click";
import { renderClick } from "./click";
import type { EventTable } from "./event-table";
import type { Kit } from "./kit";
import { LAYER_GAINS, layerFor } from "./kit";
import { Limiter } from "./limiter";
import { Mixer } from "./mixer";
import { SchedulePointer } from "./schedule-pointer";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { ceil, max, min, round } = Math;

/** An event that a change moved behind the playhead still sounds, late, if it missed its time by no more than this. */
const LATE_LIMIT_SECONDS = 0.12;
/** Hits ahead of the very first downbeat are given this much room; what is earlier waits for the next lap. */
const MAX_LEAD_SECONDS = 0.06;

export interface ClickSettings {
  readonly on: boolean;
  /** Amplitude, 0..1 and a little above. */
  readonly gain: number;
}

/** How a run begins. */
export interface PlayerStart {
  readonly run: number;
  /** Where it begins; before the first downbeat when negative. */
  readonly fromTicks: Ticks;
  /** The click sounds up to the first downbeat, whether it is on or not. */
  readonly countIn: boolean;
  /** Ends the playing at this position, where the tail may still ring; for renders. */
  readonly untilTicks?: Ticks;
}

/**
 * Transport, click, loop playback and voices, driven block by block; the same object runs in the audio thread and in
 * renders. All positions come from the anchor, and every event knows the lap in which it sounds next, so that a table
 * that is swapped in the middle of a lap neither skips nor repeats a hit.
 */
export class Player {
  readonly mixer: Mixer;
  private readonly limiter: Limiter;
  private readonly clickSamples: ClickSamples;
  private frame = 0;
  private kit: Kit | undefined;
  private table: EventTable;
  private schedule: SchedulePointer;
  private anchor: TransportAnchor | undefined;
  private untilTicks = Infinity;
  private countIn = false;
  private nextPulse = 0;
  private click: ClickSettings = { on: false, gain: 1 };
  private variant = 0;

  constructor(
    readonly sampleRate: number,
    table: EventTable,
    private readonly onAnchor: (anchor: TransportAnchor | undefined) => void = () => {},
  ) {
    this.table = table;
    this.schedule = new SchedulePointer(table.ids.length);
    this.mixer = new Mixer(sampleRate);
    this.limiter = new Limiter(sampleRate);
    this.clickSamples = renderClick(sampleRate);
  }

  get running(): boolean {
    return this.anchor !== undefined;
  }

  setKit(kit: Kit): void {
    this.kit = kit;
  }

  setClick(click: ClickSettings): void {
    this.click = click;
  }

  /** The next block begins here; hosts with a clock of their own keep it in step. */
  seek(frame: number): void {
    this.frame = frame;
  }

  start({ run, fromTicks, countIn, untilTicks }: PlayerStart): void {
    this.untilTicks = untilTicks ?? Infinity;
    this.countIn = countIn;
    this.setAnchor(run, fromTicks);
    this.schedule = SchedulePointer.from(this.table, run, fromTicks);
    this.nextPulse = ceil(fromTicks / pulseTicks(this.table.meter));
  }

  stop(): void {
    this.anchor = undefined;
    this.onAnchor(undefined);
  }

  /** Sounds a stroke with the next block. */
  hit(drum: number, velocity: number): void {
    this.variant++;
    this.startDrum(drum, velocity, this.variant, this.frame);
  }

  /** Replaces what is played, in the middle of a lap if need be. Tempo and length may change with it. */
  setTable(table: EventTable): void {
    const { anchor, table: before } = this;
    if (anchor) {
      const now = anchorTicksAt(anchor, this.frame, this.sampleRate);
      const sameLength = table.lengthTicks === before.lengthTicks;
      const sameMeter = table.meter.beats === before.meter.beats && table.meter.unit === before.meter.unit;
      const position = sameLength || now < 0 ? now : wrap(wrap(now, before.lengthTicks), table.lengthTicks);
      if (table.bpm !== before.bpm || !sameLength) this.setAnchor(anchor.run, position as Ticks, table);
      this.schedule = sameLength
        ? SchedulePointer.carryOver(this.schedule, before, table, anchor.run, position)
        : SchedulePointer.from(table, anchor.run, position);
      if (position !== now || !sameMeter) this.nextPulse = ceil(position / pulseTicks(table.meter));
    }
    this.table = table;
  }

  /** Fills a block. @returns true when the limiter had to work */
  process(left: Float32Array, right: Float32Array): boolean {
    left.fill(0);
    right.fill(0);
    if (this.anchor) {
      const end = this.frame + left.length;
      this.playEvents(this.anchor, end);
      this.playClick(this.anchor, end);
    }
    this.mixer.addTo(left, right, this.frame);
    this.frame += left.length;
    return this.limiter.process(left, right);
  }

  private playEvents(anchor: TransportAnchor, endFrame: number): void {
    const { schedule, table } = this;
    const soonest = anchorFrameAt(anchor, schedule.soonestTicks as Ticks, this.sampleRate);
    if (round(soonest) >= endFrame) return;
    const late = this.frame - LATE_LIMIT_SECONDS * this.sampleRate;
    let soonestTicks = Infinity;
    for (let index = 0; index < table.ids.length; index++) {
      let ticks = schedule.ticksOf(table, index);
      let frame = round(anchorFrameAt(anchor, ticks, this.sampleRate));
      while (frame < endFrame) {
        if (frame >= late && ticks < this.untilTicks) {
          this.startDrum(table.drums[index], table.velocities[index], table.variants[index], max(frame, this.frame));
        }
        schedule.laps[index]++;
        ticks = schedule.ticksOf(table, index);
        frame = round(anchorFrameAt(anchor, ticks, this.sampleRate));
      }
      if (ticks < soonestTicks) soonestTicks = ticks;
    }
    schedule.soonestTicks = soonestTicks;
  }

  private playClick(anchor: TransportAnchor, endFrame: number): void {
    const pulse = pulseTicks(this.table.meter);
    for (;;) {
      const ticks = (this.nextPulse * pulse) as Ticks;
      const frame = round(anchorFrameAt(anchor, ticks, this.sampleRate));
      if (frame >= endFrame) return;
      this.nextPulse++;
      if ((this.click.on || (this.countIn && ticks < 0)) && frame >= this.frame) {
        const accented = wrap(ticks, barTicks(this.table.meter)) === 0;
        const samples = accented ? this.clickSamples.accent : this.clickSamples.beat;
        this.mixer.start(samples, this.click.gain, this.click.gain, 0, frame);
      }
    }
  }

  private startDrum(drum: number, velocity: number, variant: number, frame: number): void {
    const source = this.kit?.drums[drum];
    if (!source) return;
    const variants = source.layers[layerFor(velocity)];
    const gain = LAYER_GAINS[velocity];
    this.mixer.start(
      variants[variant % variants.length],
      gain * source.gainLeft,
      gain * source.gainRight,
      source.chokeGroup,
      frame,
    );
  }

  private setAnchor(run: number, ticks: Ticks, { bpm, lengthTicks }: EventTable = this.table): void {
    this.anchor = { run, frame: this.frame as Frames, ticks, bpm, lengthTicks };
    this.onAnchor(this.anchor);
  }
}

/** Where a run begins: whole bars of count-in, or just ahead of the downbeat if an early hit belongs to it. */
export function startTicks({ meter, bpm, ticks }: EventTable, countInBars: number): Ticks {
  if (countInBars > 0) return (-countInBars * barTicks(meter)) as Ticks;
  const limit = secondsToTicks(MAX_LEAD_SECONDS as Seconds, bpm);
  return min(0, ...ticks.filter((tick) => tick >= -limit)) as Ticks;
}
