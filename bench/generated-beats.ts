import type { Beat } from "../src/core/beat/beat";
import { addHits, addPass } from "../src/core/beat/edit";
import { duplicatePart } from "../src/core/beat/edits/part-edit";
import { firstPlace, newBeat } from "../src/core/beat/new-beat";
import { seededRandom } from "../src/core/random";
import type { Ticks } from "../src/core/time/ticks";

/** A beat with so many random hits on all pads. */
export function beatOf(hits: number, bars: number): Beat {
  const random = seededRandom(1);
  const empty = newBeat({ id: "bench", name: "Bench", bpm: 120, bars });
  const patternRef = firstPlace(empty);
  const { beat, passId } = addPass(empty, patternRef, { name: "Pass 1", muted: false, quantize: empty.inputQuantize });
  const strokes = Array.from({ length: hits }, () => ({
    lane: Math.floor(random() * 16),
    played: { ticks: (random() * bars * 3840) as Ticks, velocity: 1 + Math.floor(random() * 127) },
    lengthTicks: 60 as Ticks,
  }));
  return addHits(beat, patternRef, passId, strokes);
}

/** So many parts that play the same, of so many hits each. */
export function inParts(parts: number, hits: number, bars = 4): Beat {
  let beat = beatOf(hits, bars);
  const [{ id }] = beat.parts as [Beat["parts"][number]];
  for (let part = 1; part < parts; part++) ({ beat } = duplicatePart(beat, id));
  return beat;
}
