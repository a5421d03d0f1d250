import { barTicks } from "../../time/meter";
import { nextLoopLine, patternTicksAt } from "../../time/loop-span";
import { TICKS_PER_QUARTER, type Ticks } from "../../time/ticks";
import type { TransportAnchor } from "../../time/transport-anchor";
import { anchorFrameAt, anchorTicksAt } from "../../time/transport-anchor";
import { warpTicks } from "../../time/warp";
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
  readonly lane: number;
  /** 1..127 */
  readonly velocity: number;
  readonly ramp?: LevelRamp;
}

/** A stroke that the repeater made. */
export interface RepeatedNote {
  readonly partId: number;
  readonly lane: number;
  readonly velocity: number;
  /** The straight line it belongs to, from the first downbeat; the groove is not in it. Undefined while stopped. */
  readonly lineTicks: Ticks | undefined;
  readonly segment: number;
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
  nextTicks = NEVER;
  lastTicks = NEVER;
  settled = false;
}

/**
 * Repeats held pads on the lines of a rate, where the groove puts them. It decides block by block from the position alone,
 * so a new rate counts from the next line on and nothing adds up. A pad that was let go before its first line still gets
 * that one stroke.
 */
export class NoteRepeater {
  private readonly holds = Array.from({ length: MAX_HOLDS }, () => new Hold());
  private step = 0 as Ticks;

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
    for (const slot of this.holds) {
      slot.settled = false;
      if (stepTicks === 0) slot.hold = undefined;
    }
  }

  /** The transport has jumped, or the loop is another: positions before have nothing to do with those after. */
  jump(): void {
    for (const slot of this.holds) {
      slot.settled = false;
      slot.firstTicks = NEVER;
      slot.lastTicks = NEVER;
    }
  }

  hold(hold: RepeatHold): void {
    const known = this.slotOf(hold.lane);
    const slot = known ?? this.holds.find((candidate) => candidate.hold === undefined);
    if (!slot || this.step === 0) return;
    if (!known) {
      slot.settled = false;
      slot.lastTicks = NEVER;
    }
    slot.hold = hold;
    slot.velocity = hold.velocity;
    slot.held = true;
    slot.firstTicks = NEVER;
  }

  release(lane: number): void {
    const slot = this.slotOf(lane);
    if (!slot) return;
    slot.held = false;
    if (slot.firstTicks !== NEVER) slot.hold = undefined;
  }

  /** From here on a held pad repeats at this level. */
  press(lane: number, velocity: number): void {
    const slot = this.slotOf(lane);
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
    for (const slot of this.holds) {
      if (!slot.hold) continue;
      if (!slot.settled) this.settle(slot, anchor, table, sampleRate, startFrame);
      while (slot.hold) {
        const line = slot.nextTicks as Ticks;
        const frame = frameOf(line, slot.hold.lane, anchor, table, sampleRate);
        if (frame >= endFrame || line >= untilTicks) break;
        this.playLine(slot, slot.hold, line, max(frame, startFrame), sink);
        slot.nextTicks = nextLoopLine((line + 1) as Ticks, this.step, barTicks(table.meter), table.span);
      }
    }
  }

  /** Finds the line that a pad repeats on first: none that has sounded, and none that is over. */
  private settle(slot: Hold, anchor: TransportAnchor, table: EventTable, sampleRate: number, startFrame: number): void {
    const bar = barTicks(table.meter);
    const now = anchorTicksAt(anchor, startFrame, sampleRate);
    const from = max(now - GROOVE_ROOM_TICKS, slot.lastTicks + 1);
    let line = nextLoopLine((now >= 0 ? max(0, from) : from) as Ticks, this.step, bar, table.span);
    while (frameOf(line, slot.hold!.lane, anchor, table, sampleRate) < startFrame)
      line = nextLoopLine((line + 1) as Ticks, this.step, bar, table.span);
    slot.nextTicks = line;
    slot.settled = true;
  }

  private playLine(slot: Hold, hold: RepeatHold, line: Ticks, frame: number, sink: NoteSink): void {
    if (slot.firstTicks === NEVER) slot.firstTicks = line;
    sink(hold, levelAt(slot.velocity, hold.ramp, line - slot.firstTicks), line, frame);
    slot.lastTicks = line;
    if (!slot.held) slot.hold = undefined;
  }

  private slotOf(lane: number): Hold | undefined {
    return this.holds.find(({ hold }) => hold?.lane === lane);
  }
}

/** When a line is heard on a pad. */
function frameOf(line: Ticks, lane: number, anchor: TransportAnchor, table: EventTable, sampleRate: number): number {
  const warp = table.padWarps.has(lane) ? table.padWarps.get(lane) : table.warp;
  const inPattern = patternTicksAt(line, table.span);
  const moved = warpTicks(warp, inPattern) - inPattern;
  return round(anchorFrameAt(anchor, (line + moved) as Ticks, sampleRate));
}

function levelAt(velocity: number, ramp: LevelRamp | undefined, elapsedTicks: number): number {
  if (!ramp) return velocity;
  const share = min(1, elapsedTicks / ramp.overTicks);
  return max(1, min(127, round(velocity * (ramp.fromRatio + share * (ramp.toRatio - ramp.fromRatio)))));
}
