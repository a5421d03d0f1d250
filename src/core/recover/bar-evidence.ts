import type { Meter } from "../time/meter";
import { wrap } from "../time/ticks";
import { barQuarters, placeInBar, PROFILE, type BarPlace, type DrumRole } from "./meter-profile";

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
const ACCENT = { weight: 0.15, velocity: 20 };
/** What a drum that comes in on a bar line speaks for it, if it comes in later than this and stays. */
const ENTRANCE = { weight: 0.5, afterQuarters: 1, strokes: 3 };
/** What a stroke of a cymbal that is struck no more often than this speaks for its bar line. */
const RARE_CRASH = { weight: 2, strokes: 2 };
/** What it speaks for a bar line if every bar has a kick on its downbeat, and a snare on the beats after it. */
const EVERY_BAR = { kick: 2.2, snare: 2.2 };
/** What toms in the beat before a bar line speak for it, by the root of how many more they are there than elsewhere. */
const FILL = 0.4;
const SHUFFLED_SHARE = 0.05;

/** A bar that is thought of: its length in steps and what each of them is. */
interface Bar {
  readonly steps: number;
  readonly places: readonly BarPlace[];
  readonly quarters: number;
}

/**
 * How much the drums speak for a bar line at each step of a bar.
 * @param evidence how many strokes' worth all of it is
 */
export function barLineEvidence(
  played: SteppedStrokes,
  meter: Meter,
  barSteps: number,
  evidence: number,
): readonly number[] {
  const places = Array.from({ length: barSteps }, (_, step) => placeInBar(step / played.perQuarter, meter));
  const bar: Bar = { steps: barSteps, places, quarters: barQuarters(meter) };
  const drums = placeEvidence(played, bar);
  const accents = accentEvidence(played, bar);
  const always = everyBarEvidence(played, bar);
  const fills = fillEvidence(played, bar);
  const events = eventEvidence(played, bar);
  return places.map(
    (_, line) => evidence * (drums[line]! + accents[line]!) + always[line]! + fills[line]! + events[line]!,
  );
}

/** Drums at their places. Strokes at one place of the bar repeat one another: they count by the root of their number. */
function placeEvidence({ strokes, steps, roles }: SteppedStrokes, bar: Bar): readonly number[] {
  const weights = roles.map(() => new Float64Array(bar.steps));
  strokes.forEach(({ drum, weight }, index) => (weights[drum]![steps[index]! % bar.steps]! += weight));
  let total = 0;
  for (const own of weights) own.forEach((weight, step) => (total += own[step] = Math.sqrt(weight)));
  const spoken = roles.flatMap((role, drum) =>
    Object.entries(PROFILE[role]).map(([place, weight]) => ({ drum, weight, at: stepsAt(bar, place as BarPlace) })),
  );
  return bar.places.map((_, line) => {
    let sum = 0;
    for (const { drum, weight, at } of spoken) sum += weight * sumFrom(weights[drum]!, line, at);
    return sum / total;
  });
}

function accentEvidence({ strokes, steps }: SteppedStrokes, bar: Bar): readonly number[] {
  const accents = new Float64Array(bar.steps);
  strokes.forEach(({ role, accent }, index) => {
    if (role === "hat") accents[steps[index]! % bar.steps]! += accent;
  });
  const beats = stepsAt(bar, "downbeat", "middle", "back", "beat");
  const each = ACCENT.weight / ACCENT.velocity / strokes.length;
  return bar.places.map((_, line) => each * sumFrom(accents, line, beats));
}

function everyBarEvidence(played: SteppedStrokes, bar: Bar): readonly number[] {
  const bars = Math.max(1, (played.steps.at(-1)! + 1) / bar.steps);
  const kicks = momentsOf(played, "kick", bar);
  const snares = momentsOf(played, "snare", bar);
  const backs = stepsAt(bar, "back");
  const wanted = bars * Math.max(1, backs.length);
  return bar.places.map(
    (_, line) =>
      EVERY_BAR.kick * Math.min(1, kicks[line]! / bars) +
      EVERY_BAR.snare * Math.min(1, sumFrom(snares, line, backs) / wanted),
  );
}

function fillEvidence(played: SteppedStrokes, bar: Bar): readonly number[] {
  const toms = momentsOf(played, "tom", bar);
  const all = toms.reduce((sum, count) => sum + count, 0);
  const lastBeat = Array.from({ length: played.perQuarter }, (_, index) => bar.steps - 1 - index);
  return bar.places.map((_, line) => {
    const there = sumFrom(toms, line, lastBeat);
    const more = there - (all - there) / Math.max(1, bar.quarters - 1);
    return FILL * Math.sign(more) * Math.sqrt(Math.abs(more));
  });
}

/** Drums that come in on a bar line and stay, and crashes that are struck once or twice. */
function eventEvidence({ strokes, steps, roles, perQuarter }: SteppedStrokes, bar: Bar): Float64Array {
  const own = roles.map((): number[] => []);
  strokes.forEach(({ drum }, index) => own[drum]!.push(steps[index]!));
  const sums = new Float64Array(bar.steps);
  own.forEach((struck, drum) => {
    if (roles[drum] === "crash" && struck.length <= RARE_CRASH.strokes)
      for (const step of struck) sums[step % bar.steps]! += RARE_CRASH.weight;
    if (struck.length >= ENTRANCE.strokes && struck[0]! > ENTRANCE.afterQuarters * perQuarter)
      sums[struck[0]! % bar.steps]! += ENTRANCE.weight;
  });
  return sums;
}

/** At how many moments a part of the kit is struck, a step of the bar. */
function momentsOf({ strokes, steps }: SteppedStrokes, role: DrumRole, bar: Bar): Float64Array {
  const counts = new Float64Array(bar.steps);
  let before = -1;
  strokes.forEach((stroke, index) => {
    if (stroke.role !== role || steps[index] === before) return;
    before = steps[index]!;
    counts[before % bar.steps]!++;
  });
  return counts;
}

function stepsAt({ places }: Bar, ...wanted: readonly BarPlace[]): readonly number[] {
  return places.flatMap((place, step) => (wanted.includes(place) ? [step] : []));
}

/** What lies so many steps after a bar line, added up. */
function sumFrom(values: Float64Array, line: number, steps: readonly number[]): number {
  let sum = 0;
  for (const step of steps) sum += values[(line + step) % values.length]!;
  return sum;
}

/** How much of the playing comes again a bar later: ratio 0..1. */
export function repetition({ strokes, steps, roles }: SteppedStrokes, barSteps: number): number {
  const last = steps.at(-1)!;
  const there = roles.map(() => new Uint8Array(last + 1));
  strokes.forEach(({ drum }, index) => (there[drum]![steps[index]!] = 1));
  let again = 0;
  let all = 0;
  strokes.forEach(({ drum, weight }, index) => {
    const later = steps[index]! + barSteps;
    if (later > last) return;
    all += weight;
    if (there[drum]![later]) again += weight;
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
