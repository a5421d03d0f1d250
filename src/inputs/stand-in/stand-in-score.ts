import { DRUMS } from "@/core/drums";
import type { Meter } from "@/core/time/meter";
import { barTicks, beatTicks, pulseTicks } from "@/core/time/meter";
import { asTicks, TICKS_PER_QUARTER, type Ticks } from "@/core/time/ticks";

/** What the stand-in drummer can play, in any meter. */
export const STAND_IN_PARTS = {
  "kick and snare": "Kick and snare",
  hats: "Hats in eighths",
  sixteenths: "Hats in sixteenths",
  claps: "Claps on the backbeat",
  groove: "The whole kit",
  fill: "A fill over the toms",
} as const;
export type StandInPart = keyof typeof STAND_IN_PARTS;

/** A stroke as it is meant, before anybody plays it. */
export interface MeantStroke {
  /** From the bar line. */
  readonly ticks: Ticks;
  readonly note: number;
  readonly velocity: number;
}

const EIGHTH = TICKS_PER_QUARTER / 2;
const SIXTEENTH = TICKS_PER_QUARTER / 4;

/** One bar of a part: kick on the odd beats, snare on the even ones, hats between, whatever the meter is. */
export function standInBar(part: StandInPart, meter: Meter): readonly MeantStroke[] {
  switch (part) {
    case "kick and snare":
      return backbeat(meter);
    case "hats":
      return steps(meter, EIGHTH, DRUMS.closedHat.note);
    case "sixteenths":
      return steps(meter, SIXTEENTH, DRUMS.closedHat.note);
    case "claps":
      return pulses(meter)
        .filter((_, index) => index % 2 === 1)
        .map((ticks) => ({ ticks, note: DRUMS.clap.note, velocity: 100 }));
    case "groove":
      return [...backbeat(meter), ...steps(meter, EIGHTH, DRUMS.closedHat.note)].sort((a, b) => a.ticks - b.ticks);
    case "fill":
      return fill(meter);
    default:
      return part satisfies never;
  }
}

function pulses(meter: Meter): Ticks[] {
  const pulse = pulseTicks(meter);
  return Array.from({ length: Math.round(barTicks(meter) / pulse) }, (_, index) => asTicks(index * pulse));
}

function backbeat(meter: Meter): MeantStroke[] {
  return pulses(meter).map((ticks, index) => ({
    ticks,
    note: index % 2 === 0 ? DRUMS.kick.note : DRUMS.snare.note,
    velocity: index === 0 ? 112 : 102,
  }));
}

function steps(meter: Meter, step: number, note: number): MeantStroke[] {
  return Array.from({ length: Math.floor(barTicks(meter) / step) }, (_, index) => ({
    ticks: asTicks(index * step),
    note,
    velocity: (index * step) % beatTicks(meter) === 0 ? 96 : 74,
  }));
}

function fill(meter: Meter): MeantStroke[] {
  const drums = [DRUMS.snare, DRUMS.highTom, DRUMS.midTom, DRUMS.lowTom];
  const strokes = steps(meter, SIXTEENTH, 0);
  return strokes.map((stroke, index) => ({
    ...stroke,
    note: drums[Math.floor((index * drums.length) / strokes.length)]!.note,
    velocity: stroke.velocity + 8,
  }));
}
