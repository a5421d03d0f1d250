import type { Beat, PatternRef, PlayedStroke } from "../beat/beat";
import { addHits, addPass, findPart, setPart, setTonal, type NewHit } from "../beat/edit";
import { firstPlace, newBeat, PLAIN_MIX } from "../beat/new-beat";
import { addTonalPart } from "../beat/edits/part-edit";
import { CoreError } from "../core-error";
import { DRUM_IDS, type DrumId } from "../drums";
import { normal, seededRandom, textSeed, type Random } from "../random";
import { STROKE_LENGTH_TICKS } from "../record/record-stroke";
import { secondsToTicks } from "../time/tempo";
import { asTicks, asSeconds } from "../time/ticks";
import { DEMO_PARTS, type PartScore } from "./demo-parts";
import { withDemoSounds } from "./demo-sounds";
import { DEMO_SCORES, type BeatScore, type PassScore } from "./demo-scores";

/** Velocity and its spread for each letter of a score. */
const STROKES: Readonly<Record<string, { readonly velocity: number; readonly spread: number }>> = {
  g: { velocity: 36, spread: 5 },
  x: { velocity: 82, spread: 6 },
  X: { velocity: 108, spread: 5 },
};

/**
 * The beats a new browser starts with.
 * @example demoBeats().map(({ name }) => name) // ["Slow Harbour", "Gangway Shuffle", "Tide Table", "Lantern Room"]
 */
export function demoBeats(): readonly Beat[] {
  return DEMO_SCORES.map(performBeat);
}

/**
 * @param name as on the shelf or as an id, in any case.
 * @throws CoreError "unknown-name"
 * @example demoBeat("Tide Table").name // "Tide Table"
 */
export function demoBeat(name: string): Beat {
  const wanted = name.toLowerCase().replace(/\s+/g, "-");
  const score = DEMO_SCORES.find(({ id }) => id === wanted);
  if (!score)
    throw new CoreError(
      "unknown-name",
      `There is no demo beat "${name}"; there are ${DEMO_SCORES.map((s) => s.name).join(", ")}.`,
    );
  return performBeat(score);
}

/** The kit with its sounds, and the parts beside it. */
function performBeat(score: BeatScore): Beat {
  return withDemoSounds(
    (DEMO_PARTS[score.id] ?? []).reduce((beat, part) => performPart(beat, score, part), performScore(score)),
  );
}

function performPart(start: Beat, score: BeatScore, part: PartScore): Beat {
  const { voiceId, levelDb, pan, scale, grid, pass } = part;
  const { beat, partId } = addTonalPart(start, voiceId);
  const mixed = setTonal(setPart(beat, partId, { mix: { ...PLAIN_MIX, levelDb, pan } }), partId, { scale });
  const place = { partId, patternId: findPart(mixed, partId).patterns[0]!.id };
  const quantize = { grid, strength: 1, reach: 1 };
  const added = addPass(mixed, place, { name: pass, muted: false, quantize });
  const random = seededRandom(textSeed(`${score.id} ${voiceId}`));
  const hits = part.notes.flatMap(([step, notes, steps, letter]) =>
    notes.map((note) => playNote(score, part, { step, note, steps, letter }, random)),
  );
  return addHits(
    added.beat,
    place,
    added.passId,
    hits.sort((a, b) => a.played.ticks - b.played.ticks),
  );
}

interface ScoredNote {
  readonly step: number;
  readonly note: number;
  readonly steps: number;
  readonly letter: string;
}

function playNote(
  score: BeatScore,
  part: PartScore,
  { step, note, steps, letter }: ScoredNote,
  random: Random,
): NewHit {
  return {
    lane: note,
    played: playStroke(score, part, step, STROKES[letter]!, random),
    lengthTicks: asTicks(Math.round(steps * score.stepTicks * 0.9)),
  };
}

/** What is written in a score of drums, as a hand plays it. */
export function performScore(score: BeatScore): Beat {
  const { id, name, bpm, meter, bars, inputGrid } = score;
  const empty = newBeat({ id, name, bpm, meter, bars });
  const patternRef = firstPlace(empty);
  const start: Beat = { ...empty, inputQuantize: { grid: inputGrid, strength: 1, reach: 1 } };
  return score.passes.reduce((beat, pass) => performPass(beat, patternRef, score, pass), start);
}

function performPass(beat: Beat, patternRef: PatternRef, score: BeatScore, pass: PassScore): Beat {
  const random = seededRandom(textSeed(`${score.id} ${pass.name}`));
  const quantize = { grid: pass.grid, strength: pass.strength, reach: 1 };
  const added = addPass(beat, patternRef, { name: pass.name, muted: false, quantize });
  const hits = Object.entries(pass.lanes).flatMap(([drum, steps]) =>
    playLane(score, pass, drum as DrumId, steps, random),
  );
  return addHits(
    added.beat,
    patternRef,
    added.passId,
    hits.sort((a, b) => a.played.ticks - b.played.ticks),
  );
}

function playLane(score: BeatScore, pass: PassScore, drum: DrumId, steps: string, random: Random): NewHit[] {
  return [...steps.replaceAll("|", "")].flatMap((letter, step) => {
    const stroke = STROKES[letter];
    if (!stroke) return [];
    const played = playStroke(score, pass, step, stroke, random);
    return [{ lane: DRUM_IDS.indexOf(drum), played, lengthTicks: STROKE_LENGTH_TICKS }];
  });
}

/** Where a hand plays a step, and how hard. */
function playStroke(
  score: BeatScore,
  { lateMs, spreadMs }: Pick<PassScore, "lateMs" | "spreadMs">,
  step: number,
  stroke: { readonly velocity: number; readonly spread: number },
  random: Random,
): PlayedStroke {
  const errorMs = lateMs + spreadMs * normal(random);
  const velocity = Math.round(stroke.velocity + stroke.spread * normal(random));
  return {
    ticks: asTicks(stepTicks(score, step) + secondsToTicks(asSeconds(errorMs / 1000), score.bpm)),
    velocity: Math.max(1, Math.min(127, velocity)),
  };
}

/** Swing moves the second of each pair of steps. */
function stepTicks({ stepTicks, swingPercent }: BeatScore, step: number): number {
  const pair = Math.floor(step / 2) * 2 * stepTicks;
  return step % 2 === 0 ? pair : pair + (swingPercent / 100) * 2 * stepTicks;
}
