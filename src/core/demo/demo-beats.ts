import type { Beat, PatternPlace } from "../beat/beat";
import { addHits, addPass, type NewHit } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { CoreError } from "../core-error";
import { DRUM_IDS, type DrumId } from "../drums";
import { normal, seededRandom, textSeed, type Random } from "../random";
import { STROKE_LENGTH_TICKS } from "../record/record-stroke";
import { secondsToTicks } from "../time/tempo";
import type { Seconds, Ticks } from "../time/ticks";
import { DEMO_SCORES, type BeatScore, type PassScore } from "./demo-scores";

/** Velocity and its spread for each letter of a score. */
const STROKES: Readonly<Record<string, { readonly velocity: number; readonly spread: number }>> = {
  g: { velocity: 36, spread: 5 },
  x: { velocity: 82, spread: 6 },
  X: { velocity: 108, spread: 5 },
};

/** The beats a new browser starts with. */
export function demoBeats(): readonly Beat[] {
  return DEMO_SCORES.map(performScore);
}

/** @param name as on the shelf or as an id, in any case. @throws CoreError "unknown-name" */
export function demoBeat(name: string): Beat {
  const wanted = name.toLowerCase().replace(/\s+/g, "-");
  const score = DEMO_SCORES.find(({ id }) => id === wanted);
  if (!score)
    throw new CoreError(
      "unknown-name",
      `There is no demo beat "${name}"; there are ${DEMO_SCORES.map((s) => s.name).join(", ")}.`,
    );
  return performScore(score);
}

/** What is written in a score, as a hand plays it. */
export function performScore(score: BeatScore): Beat {
  const { id, name, bpm, meter, bars, inputGrid } = score;
  const empty = newBeat({ id, name, bpm, meter, bars });
  const place = firstPlace(empty);
  const start: Beat = { ...empty, inputQuantize: { grid: inputGrid, strength: 1, reach: 1 } };
  return score.passes.reduce((beat, pass) => performPass(beat, place, score, pass), start);
}

function performPass(beat: Beat, place: PatternPlace, score: BeatScore, pass: PassScore): Beat {
  const random = seededRandom(textSeed(`${score.id} ${pass.name}`));
  const quantize = { grid: pass.grid, strength: pass.strength, reach: 1 };
  const added = addPass(beat, place, { name: pass.name, muted: false, quantize });
  const hits = Object.entries(pass.lanes).flatMap(([drum, steps]) =>
    playLane(score, pass, drum as DrumId, steps, random),
  );
  return addHits(
    added.beat,
    place,
    added.passId,
    hits.sort((a, b) => a.played.ticks - b.played.ticks),
  );
}

function playLane(score: BeatScore, pass: PassScore, drum: DrumId, steps: string, random: Random): NewHit[] {
  return [...steps.replaceAll("|", "")].flatMap((letter, step) => {
    const stroke = STROKES[letter];
    if (!stroke) return [];
    const errorMs = pass.lateMs + pass.spreadMs * normal(random);
    const velocity = Math.round(stroke.velocity + stroke.spread * normal(random));
    return [
      {
        lane: DRUM_IDS.indexOf(drum),
        played: {
          ticks: (stepTicks(score, step) + secondsToTicks((errorMs / 1000) as Seconds, score.bpm)) as Ticks,
          velocity: Math.max(1, Math.min(127, velocity)),
        },
        lengthTicks: STROKE_LENGTH_TICKS,
      },
    ];
  });
}

/** Swing moves the second of each pair of steps. */
function stepTicks({ stepTicks, swingPercent }: BeatScore, step: number): number {
  const pair = Math.floor(step / 2) * 2 * stepTicks;
  return step % 2 === 0 ? pair : pair + (swingPercent / 100) * 2 * stepTicks;
}
