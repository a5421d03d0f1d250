import type { Beat } from "@/core/beat/beat";
import { addHits, addPass, findPart } from "@/core/beat/edit";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { addTonalPart } from "@/core/beat/edits/part-edit";
import { DRUM_IDS } from "@/core/drums";
import { STROKE_LENGTH_TICKS } from "@/core/record/record-stroke";
import type { Ticks } from "@/core/time/ticks";

/** Side sticks on the eighths of a bar at 120 BPM, each some ms off its line, as a hand plays them. */
export function eighths(): Beat {
  const empty = newBeat({ id: "eighths", name: "Eighths", bpm: 120, bars: 1 });
  const patternRef = firstPlace(empty);
  const { beat, passId } = addPass(empty, patternRef, { name: "Pass 1", muted: false, quantize: empty.inputQuantize });
  const hits = [6, -9, 14, 3, -20, 11, -5, 17].map((offTicks, eighth) => ({
    lane: DRUM_IDS.indexOf("sideStick"),
    played: { ticks: (eighth * 480 + offTicks) as Ticks, velocity: 100 },
    lengthTicks: STROKE_LENGTH_TICKS,
  }));
  return addHits(beat, patternRef, passId, hits);
}

/** The same with a note of a bass on the beat: little to make of a kit and a voice, and something of both. */
export function eighthsAndBass(): Beat {
  const { beat, partId } = addTonalPart(eighths(), "winch");
  const place = { partId, patternId: findPart(beat, partId).patterns[0]!.id };
  const added = addPass(beat, place, { name: "Pass 1", muted: false, quantize: beat.inputQuantize });
  const note = { lane: 36, played: { ticks: 0 as Ticks, velocity: 90 }, lengthTicks: 900 as Ticks };
  return addHits(added.beat, place, added.passId, [note]);
}
