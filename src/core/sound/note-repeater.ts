import { barTicks } from "../time/meter";
import { nextLoopLine, patternTicksAt } from "../time/loop-span";
import { TICKS_PER_QUARTER, type Ticks } from "../time/ticks";
import type { TransportAnchor } from "../time/transport-anchor";
import { anchorFrameAt, anchorTicksAt } from "../time/transport-anchor";
import { warpTicks } from "../time/warp";
import type { EventTable } from "./event-table";

const { max, min, round } = Math;

/** Far enough back to find a line that a groove has moved to after now. */
const GROOVE_ROOM_TICKS = TICKS_PER_QUARTER;
/** More than any hands hold at once. */
const MAX_HOLDS = 32;
const NEVER = -Infinity;

/** From one level to another, as ratios of the first stroke, over a time; then it stays. */
export interface LevelRamp {
  readonly fromRatio: number;
  readonly toRatio: number;
  readonly overTicks: number;
}

/** A pad that is held while notes repeat. */
export interface RepeatHold {
  readonly pad: number;
  readonly drum: number;
  /** 1..127 */
  readonly velocity: number;
  readonly ramp?: LevelRamp;
}

/** A stroke that the repeater made. */
export interface RepeatedNote {
  readonly pad: number;
  readonly velocity: number;
  /** The straight line it belongs to, from the first downbeat; the groove is not in it. Undefined while stopped. */
  readonly lineTicks: Ticks | undefined;
  readonly run: number;
  /** When it sounded. */
  readonly frame: number;
  readonly stepTicks: number;
}

/** Receives the notes of one line, a call for each pad that is held. */
export type NoteSink = (hold: RepeatHold, velocity: number, lineTicks: Ticks, frame: number) => void;

class Hold {
  hold: RepeatHold | undefined;
  velocity = 0;
  held = false;
  firstTicks = NEVER;
}

/**
 * Repeats held pads on the lines of a rate, where the groove puts them. It decides block by block from the position alone,
 * so a new rate counts from the next line on and nothing adds up. A pad that was let go before its first line still gets
 * that one stroke.
 */
export class NoteRepeater {
  private readonly holds = Array.from({ length: MAX_HOLDS }, () => new Hold());
  private step = 0 as Ticks;
  private nextTicks = NEVER;
  private lastTicks = NEVER;
  private settled = false;

  get stepTicks(): Ticks {
    return this.step;
  }

  /** True while there is a pad to repeat. */
  get busy(): boolean {
    return this.step > 0 && this.holds.some(({ hold }) => hold !== undefined);
  }

  /** @param stepTicks 0 ends repeating and forgets what is held */
  setRate(stepTicks: Ticks): void {
    this.step = stepTicks;
    this.settled = false;
    if (stepTicks === 0) for (const slot of this.holds) slot.hold = undefined;
  }

  /** The transport has jumped, or the loop is another: positions before have nothing to do with those after. */
  jump(): void {
    this.settled = false;
    this.lastTicks = NEVER;
    for (const slot of this.holds) slot.firstTicks = NEVER;
  }

  hold(hold: RepeatHold): void {
    const slot = this.slotOf(hold.pad) ?? this.holds.find((candidate) => candidate.hold === undefined);
    if (!slot || this.step === 0) return;
    // While nothing was held no line was followed.
    if (!this.busy) this.settled = false;
    slot.hold = hold;
    slot.velocity = hold.velocity;
    slot.held = true;
    slot.firstTicks = NEVER;
  }

  release(pad: number): void {
    const slot = this.slotOf(pad);
    if (!slot) return;
    slot.held = false;
    if (slot.firstTicks !== NEVER) slot.hold = undefined;
  }

  /** From here on a held pad repeats at this level. */
  press(pad: number, velocity: number): void {
    const slot = this.slotOf(pad);
    if (slot) slot.velocity = velocity;
  }

  /** Makes all notes whose frames lie before `endFrame` and whose lines before `untilTicks`. */
  play(
    anchor: TransportAnchor,
    table: EventTable,
    sampleRate: number,
    startFrame: number,
    endFrame: number,
    untilTicks: number,
    sink: NoteSink,
  ): void {
    if (this.step === 0) return;
    const bar = barTicks(table.meter);
    const frameOf = (line: Ticks) => {
      const inPattern = patternTicksAt(line, table.span);
      const moved = warpTicks(table.warp, inPattern) - inPattern;
      return round(anchorFrameAt(anchor, (line + moved) as Ticks, sampleRate));
    };
    if (!this.settled) {
      const now = anchorTicksAt(anchor, startFrame, sampleRate);
      const from = max(now - GROOVE_ROOM_TICKS, this.lastTicks + 1);
      let line = nextLoopLine((now >= 0 ? max(0, from) : from) as Ticks, this.step, bar, table.span);
      while (frameOf(line) < startFrame) line = nextLoopLine((line + 1) as Ticks, this.step, bar, table.span);
      this.nextTicks = line;
      this.settled = true;
    }
    for (;;) {
      const line = this.nextTicks as Ticks;
      const frame = frameOf(line);
      if (frame >= endFrame || line >= untilTicks) return;
      this.playLine(line, max(frame, startFrame), sink);
      this.lastTicks = line;
      this.nextTicks = nextLoopLine((line + 1) as Ticks, this.step, bar, table.span);
    }
  }

  private playLine(line: Ticks, frame: number, sink: NoteSink): void {
    for (const slot of this.holds) {
      const { hold } = slot;
      if (!hold) continue;
      if (slot.firstTicks === NEVER) slot.firstTicks = line;
      sink(hold, levelAt(slot.velocity, hold.ramp, line - slot.firstTicks), line, frame);
      if (!slot.held) slot.hold = undefined;
    }
  }

  private slotOf(pad: number): Hold | undefined {
    return this.holds.find(({ hold }) => hold?.pad === pad);
  }
}

function levelAt(velocity: number, ramp: LevelRamp | undefined, elapsedTicks: number): number {
  if (!ramp) return velocity;
  const share = min(1, elapsedTicks / ramp.overTicks);
  return max(1, min(127, round(velocity * (ramp.fromRatio + share * (ramp.toRatio - ramp.fromRatio)))));
}
