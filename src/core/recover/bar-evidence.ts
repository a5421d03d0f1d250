import type { Meter } from "../time/meter";
import { wrap } from "../time/ticks";
import { placeInBar, PROFILE, type BarPlace, type DrumRole } from "./meter-profile";

/** A stroke for the search of bar lines. */
export interface BarStroke {
  /** Which of the drums that were played, from 0 on. */
  readonly drum: number;
  readonly role: DrumRole;
  /** More for harder strokes. */
  readonly weight: number;
  /** How much harder it is than this drum is struck on average. */
  readonly accent: number;
}

/** Strokes on a pulse: each one's step, from 0 on. */
export interface SteppedStrokes {
  readonly strokes: readonly BarStroke[];
  readonly steps: readonly number[];
  readonly perQuarter: number;
  /** What each drum is. */
  readonly roles: readonly DrumRole[];
}

/** How much hats that are louder on the beats than between them speak, for a velocity of so much. */
const ACCENT = { weight: 0.75, velocity: 20 };
/** What a drum that comes in on a bar line speaks for it, if it comes in later than this and stays. */
const ENTRANCE = { weight: 1.2, afterQuarters: 1, strokes: 3 };
const SHUFFLED_SHARE = 0.05;

/**
 * How much the drums speak for a bar line at each step of a bar. Strokes at one place of the bar repeat one another: they
 * count by the root of their number.
 * @param evidence how many strokes' worth all of it is
 */
export function barLineEvidence(
  played: SteppedStrokes,
  meter: Meter,
  barSteps: number,
  evidence: number,
): readonly number[] {
  const { strokes, steps, roles, perQuarter } = played;
  const weights = roles.map(() => new Float64Array(barSteps));
  const accents = new Float64Array(barSteps);
  strokes.forEach(({ drum, role, weight, accent }, index) => {
    const step = steps[index] % barSteps;
    weights[drum][step] += weight;
    if (role === "hat") accents[step] += accent;
  });
  let total = 0;
  for (const own of weights) own.forEach((weight, step) => (total += own[step] = Math.sqrt(weight)));
  const places = Array.from({ length: barSteps }, (_, step) => placeInBar(step / perQuarter, meter));
  const stepsAt = (...wanted: readonly BarPlace[]) =>
    places.flatMap((place, step) => (wanted.includes(place) ? [step] : []));
  const onBeats = stepsAt("downbeat", "middle", "back", "beat");
  const spoken = roles.flatMap((role, drum) =>
    Object.entries(PROFILE[role]).map(([place, weight]) => ({ drum, weight, at: stepsAt(place as BarPlace) })),
  );
  const sumFrom = (values: Float64Array, line: number, at: readonly number[]) => {
    let sum = 0;
    for (const step of at) sum += values[(line + step) % barSteps];
    return sum;
  };
  const entrances = entrancesOf(played).map((step) => step % barSteps);
  return places.map((_, line) => {
    let drums = 0;
    for (const { drum, weight, at } of spoken) drums += weight * sumFrom(weights[drum], line, at);
    const accent = sumFrom(accents, line, onBeats) / ACCENT.velocity / strokes.length;
    const entered = entrances.filter((step) => step === line).length;
    return evidence * (drums / total + ACCENT.weight * accent) + ENTRANCE.weight * entered;
  });
}

/** The steps at which drums come in that were not there from the beginning. */
function entrancesOf({ strokes, steps, roles, perQuarter }: SteppedStrokes): readonly number[] {
  const counts = roles.map(() => 0);
  const firsts = roles.map(() => 0);
  strokes.forEach(({ drum }, index) => {
    if (counts[drum]++ === 0) firsts[drum] = steps[index];
  });
  return firsts.filter(
    (first, drum) => counts[drum] >= ENTRANCE.strokes && first > ENTRANCE.afterQuarters * perQuarter,
  );
}

/** How much of the playing comes again a bar later: ratio 0..1. */
export function repetition({ strokes, steps, roles }: SteppedStrokes, barSteps: number): number {
  const last = steps.at(-1)!;
  const there = roles.map(() => new Uint8Array(last + 1));
  strokes.forEach(({ drum }, index) => (there[drum][steps[index]] = 1));
  let again = 0;
  let all = 0;
  strokes.forEach(({ drum, weight }, index) => {
    const later = steps[index] + barSteps;
    if (later > last) return;
    all += weight;
    if (there[drum][later]) again += weight;
  });
  return all === 0 ? 0 : again / all;
}

/**
 * True where what looks like three quarters to the bar is a shuffle: hardly anything on the second or on the third of every
 * three eighths, where 3/4 and 6/8 have strokes.
 * @param line a step at which a bar begins
 */
export function isShuffled({ steps, perQuarter }: SteppedStrokes, line: number): boolean {
  const eighth = perQuarter / 2;
  const countAt = (place: number) => steps.filter((step) => wrap(step - line, 3 * eighth) === place).length;
  return Math.min(countAt(eighth), countAt(2 * eighth)) < SHUFFLED_SHARE * steps.length;
}
