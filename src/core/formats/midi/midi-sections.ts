import { DEFAULT_METER } from "../../beat/new-beat";
import type { Meter } from "../../time/meter";
import { meter as toMeter } from "../../time/meter";
import type { Smf } from "./smf-read";

/** A stretch of a MIDI file in one meter, up to the next one; bars are counted from its start. */
export interface MidiSection {
  /** In the file's ticks. */
  readonly startTick: number;
  readonly meter: Meter;
}

/** The stretches between the changes of meter; 4/4 where the file names none or one that we don't know. */
export function midiSections({ meters }: Smf): readonly MidiSection[] {
  const changes = [...new Map(meters.map((change) => [change.tick, change])).values()].sort((a, b) => a.tick - b.tick);
  const starts = changes[0]?.tick === 0 ? changes : [{ tick: 0, beats: 4, unit: 4 }, ...changes];
  return starts.map(({ tick, beats, unit }) => ({
    startTick: tick,
    meter: knownMeter(beats, unit),
  }));
}

/** The stretch that a tick lies in, found by halves: there may be tens of thousands. */
export function sectionAt(sections: readonly MidiSection[], tick: number): MidiSection {
  let low = 0;
  let high = sections.length - 1;
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if (sections[middle]!.startTick <= tick) low = middle;
    else high = middle - 1;
  }
  return sections[low]!;
}

function knownMeter(beats: number, unit: number): Meter {
  try {
    return toMeter(beats, unit);
  } catch {
    return DEFAULT_METER;
  }
}
