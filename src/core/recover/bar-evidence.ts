import type { Meter } from "../time/meter";
import { wrap } from "../time/ticks";
import { placeInBar, PROFILE, type BarPlace, type DrumRole } from "./meter-profile";

/** A stroke for the search of bar lines. */
export interface BarStroke {
  readonly role: DrumRole;
  readonly note: number;
  /** More for harder strokes. */
  readonly weight: number;
  /** How much harder it is than this drum is struck on average. */
  readonly accent: number;
  readonly step: number;
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
  strokes: readonly BarStroke[],
  meter: Meter,
  barSteps: number,
  perQuarter: number,
  evidence: number,
): readonly number[] {
  const cells = new Map<number, { readonly role: DrumRole; readonly step: number; weight: number }>();
  const accents = new Array<number>(barSteps).fill(0);
  for (const { role, note, weight, accent, step: played } of strokes) {
    const step = played % barSteps;
    const cell = cells.get(note * barSteps + step) ?? { role, step, weight: 0 };
    cell.weight += weight;
    cells.set(note * barSteps + step, cell);
    if (role === "hat") accents[step] += accent;
  }
  let total = 0;
  const struck = new Map<DrumRole, number[]>();
  for (const { role, step, weight } of cells.values()) {
    const own = struck.get(role) ?? new Array<number>(barSteps).fill(0);
    own[step] += Math.sqrt(weight);
    total += Math.sqrt(weight);
    struck.set(role, own);
  }
  const entrances = entrancesOf(strokes, perQuarter).map((step) => step % barSteps);
  const places = Array.from({ length: barSteps }, (_, step) => placeInBar(step / perQuarter, meter));
  const at = (values: readonly number[], line: number, ...wanted: readonly BarPlace[]) =>
    places.reduce((sum, place, step) => (wanted.includes(place) ? sum + values[(line + step) % barSteps] : sum), 0);
  return places.map((_, line) => {
    let drums = 0;
    for (const [role, values] of struck)
      for (const [place, weight] of Object.entries(PROFILE[role]))
        drums += weight * at(values, line, place as BarPlace);
    const accent = at(accents, line, "downbeat", "middle", "back", "beat") / ACCENT.velocity / strokes.length;
    const entered = entrances.filter((step) => step === line).length;
    return evidence * (drums / total + ACCENT.weight * accent) + ENTRANCE.weight * entered;
  });
}

/** The steps at which drums come in that were not there from the beginning. */
function entrancesOf(strokes: readonly BarStroke[], perQuarter: number): readonly number[] {
  const counts = new Map<number, { readonly first: number; count: number }>();
  for (const { note, step } of strokes) {
    const known = counts.get(note) ?? { first: step, count: 0 };
    known.count++;
    counts.set(note, known);
  }
  return [...counts.values()]
    .filter(({ first, count }) => count >= ENTRANCE.strokes && first > ENTRANCE.afterQuarters * perQuarter)
    .map(({ first }) => first);
}

/** How much of the playing comes again a bar later: ratio 0..1. */
export function repetition(strokes: readonly BarStroke[], barSteps: number): number {
  const last = strokes.at(-1)!.step;
  const placeOf = (note: number, step: number) => note * (last + 1) + step;
  const there = new Set(strokes.map(({ note, step }) => placeOf(note, step)));
  let again = 0;
  let all = 0;
  for (const { note, step, weight } of strokes) {
    if (step + barSteps > last) continue;
    all += weight;
    if (there.has(placeOf(note, step + barSteps))) again += weight;
  }
  return all === 0 ? 0 : again / all;
}

/**
 * True where what looks like three quarters to the bar is a shuffle: hardly anything on the second or on the third of every
 * three eighths, where 3/4 and 6/8 have strokes.
 * @param line a step at which a bar begins
 */
export function isShuffled(strokes: readonly BarStroke[], line: number, perQuarter: number): boolean {
  const eighth = perQuarter / 2;
  const countAt = (place: number) => strokes.filter(({ step }) => wrap(step - line, 3 * eighth) === place).length;
  return Math.min(countAt(eighth), countAt(2 * eighth)) < SHUFFLED_SHARE * strokes.length;
}
