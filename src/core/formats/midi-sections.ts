import { DEFAULT_METER } from "../beat/new-beat";
import type { Meter } from "../time/meter";
import { meter as toMeter } from "../time/meter";
import type { Smf } from "./smf-read";

/** A stretch of a MIDI file in one meter; bars are counted from its start. */
export interface MidiSection {
  /** In the file's ticks. */
  readonly startTick: number;
  readonly endTick: number;
  readonly meter: Meter;
}

/** The stretches between the changes of meter; 4/4 where the file names none or one that we don't know. */
export function midiSections({ meters }: Smf): readonly MidiSection[] {
  const changes = [...new Map(meters.map((change) => [change.tick, change])).values()].sort((a, b) => a.tick - b.tick);
  const starts = changes[0]?.tick === 0 ? changes : [{ tick: 0, beats: 4, unit: 4 }, ...changes];
  return starts.map(({ tick, beats, unit }, index) => ({
    startTick: tick,
    endTick: starts[index + 1]?.tick ?? Infinity,
    meter: knownMeter(beats, unit),
  }));
}

function knownMeter(beats: number, unit: number): Meter {
  try {
    return toMeter(beats, unit);
  } catch {
    return DEFAULT_METER;
  }
}
