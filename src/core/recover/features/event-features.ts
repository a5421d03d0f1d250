import { BarRows, numbered } from "./bar-rows";
import type { BarSteps } from "./bar-steps";
import { runningCount, STRUCK_GROUPS, type PlayedSteps, type StruckSteps } from "./played-steps";

export const EVENT_FEATURES = [
  "lone crash on 1",
  "lone crash elsewhere",
  "crash at the beginning on 1",
  "drum comes in on 1",
  "drum comes in on 3",
  "drum leaves at 1",
  "toms in the last beat",
  "snare in the last beat",
  "toms in the last half",
  "pattern changes on 1",
  "pattern changes on 3",
] as const;

/** A cymbal that is struck no more often than this is a sign by itself. */
const LONE = 2;
/** A drum has come in, or has left, if it is away for so many quarters; and it has to be there for so many strokes. */
const AWAY_QUARTERS = 3;
const THERE_STROKES = 3;
/** Playing is compared over so many quarters before and after a moment. */
const CHANGE_QUARTERS = 4;
/** Smaller changes than this are none, nor those that are small beside the greatest. */
const CHANGE = { least: 0.1, ofGreatest: 0.5 };

/** Steps at which something happens, whatever the bars. */
export interface PlayedEvents {
  /** Crashes with which playing begins. */
  readonly opens: readonly number[];
  /** Drums that come in and stay. */
  readonly entries: readonly number[];
  /** Where drums are missed first that leave. */
  readonly exits: readonly number[];
  /** Crashes that are struck once or twice. */
  readonly lone: readonly number[];
  /** Where what is played changes most, and how much. */
  readonly changes: readonly { readonly step: number; readonly by: number }[];
}

export function eventsIn(played: PlayedSteps, struck: StruckSteps): PlayedEvents {
  return { ...comingAndGoing(played), changes: changesOf(struck, played.perQuarter) };
}

const ROWS = ["opens", "entries", "exits", "lone", "changes", "toms", "snares"] as const;
const ROW = numbered(ROWS);

/** What happens once or now and then. @returns in the order of EVENT_FEATURES */
export function eventFeatures(
  events: PlayedEvents,
  struck: StruckSteps,
  bar: BarSteps,
  perQuarter: number,
): (line: number) => number[] {
  const rows = new BarRows(ROWS.length, bar.count);
  for (const row of ["opens", "entries", "exits", "lone"] as const)
    for (const step of events[row]) rows.add(ROW[row], step % bar.count, 1);
  for (const { step, by } of events.changes) rows.add(ROW.changes, step % bar.count, by);
  addMoments(rows, ROW.toms, struck.toms);
  addMoments(rows, ROW.snares, struck.snare);
  const last = (count: number) => Array.from({ length: Math.round(count) }, (_, index) => bar.count - 1 - index);
  const [lastBeat, lastHalf] = [last(perQuarter), last(bar.count / 2)];
  const [toms, snares] = [rows.total(ROW.toms), rows.total(ROW.snares)];
  const more = (row: number, all: number, line: number, steps: readonly number[]) =>
    moreThere(rows.sumFrom(row, line, steps), all, steps.length / Math.max(1, bar.count - steps.length));
  const { downbeat, middle } = bar.at;
  return (line) => {
    const onLine = rows.sumFrom(ROW.lone, line, downbeat);
    return [
      Math.min(LONE, onLine),
      Math.min(LONE, events.lone.length - onLine),
      Math.min(1, rows.sumFrom(ROW.opens, line, downbeat)),
      Math.min(3, rows.sumFrom(ROW.entries, line, downbeat)),
      Math.min(3, rows.sumFrom(ROW.entries, line, middle)),
      Math.min(3, rows.sumFrom(ROW.exits, line, downbeat)),
      more(ROW.toms, toms, line, lastBeat),
      more(ROW.snares, snares, line, lastBeat),
      more(ROW.toms, toms, line, lastHalf),
      rows.sumFrom(ROW.changes, line, downbeat),
      rows.sumFrom(ROW.changes, line, middle),
    ];
  };
}

/** By the root of how many more there are in a part of the bar than there would be of as much elsewhere. @param share of the part to the rest */
function moreThere(there: number, all: number, share: number): number {
  const more = there - (all - there) * share;
  return Math.sign(more) * Math.sqrt(Math.abs(more));
}

/** Counts the moments in which a group is struck. */
function addMoments(rows: BarRows, row: number, struck: Float64Array): void {
  for (let step = 0; step < struck.length; step++) if (struck[step]! > 0) rows.add(row, step % rows.barSteps, 1);
}

/** Crashes at the beginning and lone ones, drums that come in and stay, drums that leave. */
function comingAndGoing({ strokes, steps, parts, perQuarter }: PlayedSteps): Omit<PlayedEvents, "changes"> {
  const found = { opens: [] as number[], entries: [] as number[], exits: [] as number[], lone: [] as number[] };
  const own = parts.map((): number[] => []);
  strokes.forEach(({ drum }, index) => own[drum]!.push(steps[index]!));
  own.forEach((struck, drum) => {
    if (parts[drum] === "crash") {
      if (struck.length <= LONE) found.lone.push(...struck);
      if (struck[0]! < perQuarter) found.opens.push(struck[0]!);
    }
    const { entries, exits } = turnsOf(struck, steps.at(-1)!, perQuarter);
    found.entries.push(...entries);
    found.exits.push(...exits);
  });
  return found;
}

/** Where a drum comes in and stays, and where it is missed first: on the beat after its last stroke. */
function turnsOf(struck: readonly number[], end: number, perQuarter: number) {
  const away = AWAY_QUARTERS * perQuarter;
  const entries: number[] = [];
  const exits: number[] = [];
  let before = 0;
  let streak = 0;
  struck.forEach((step, index) => {
    const next = struck[index + 1] ?? Infinity;
    if (step - before >= away && struck.length - index >= THERE_STROKES && next - step < away) entries.push(step);
    streak = step - before < away ? streak + 1 : 1;
    if (next === Infinity && end - step >= away && streak >= THERE_STROKES)
      exits.push(Math.ceil((step + 1) / perQuarter) * perQuarter);
    before = step;
  });
  return { entries, exits };
}

/** How far the quarters before a step differ from those after it, where that is most. */
function changesOf(struck: StruckSteps, perQuarter: number): PlayedEvents["changes"] {
  const window = CHANGE_QUARTERS * perQuarter;
  const { length } = struck.any;
  if (length < 2 * window) return [];
  const counted = STRUCK_GROUPS.filter((group) => group !== "any" && group !== "bass")
    .map((group) => runningCount(struck[group]))
    .filter((sums) => sums[length]! > 0);
  const novelty = new Float64Array(length);
  for (let step = perQuarter; step < length - perQuarter; step++) {
    const [from, to] = [Math.max(0, step - window), Math.min(length, step + window)];
    for (const sums of counted)
      novelty[step]! += Math.abs((sums[to]! - sums[step]!) / (to - step) - (sums[step]! - sums[from]!) / (step - from));
  }
  const most = novelty.reduce((one, other) => Math.max(one, other), 0);
  if (most < CHANGE.least) return [];
  const changes: { step: number; by: number }[] = [];
  novelty.forEach((by, step) => {
    const peak = by >= (novelty[step - 1] ?? 0) && by > (novelty[step + 1] ?? 0);
    if (peak && by > CHANGE.ofGreatest * most) changes.push({ step, by });
  });
  return changes;
}
