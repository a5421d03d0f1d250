import type { Beat } from "@/core/beat/beat";
import type { History, HistoryStep } from "@/core/beat/history";
import { sameBesideIds } from "@/core/beat/same-beside-ids";
import { deltaBetween } from "@/core/delta";

/** Steps of a beat that outlive the page, on either side of the present; fewer where they are large. */
export const KEPT_STEPS = 200;
const MAX_KEPT_CHARS = 8_000_000;

/** A step as it is kept. */
export interface KeptStep {
  readonly number: number;
  readonly label: string;
  readonly atMs: number;
  /** How the beat before it is made of the one after it, and the other way round: a Delta as JSON. */
  readonly back: string;
  readonly forth: string;
}

/** What of a history is not on disk yet, or not any more. */
export interface HistoryChanges {
  /** The last step that was made; those behind it can be done again. */
  readonly made: number;
  /** All steps outside of these go, both included, and of those between them these. */
  readonly first: number;
  readonly last: number;
  readonly gone: readonly number[];
  readonly steps: readonly KeptStep[];
}

/** A step with the beat before and after it; undefined where an earlier page made it, which has kept it. */
interface StepPair {
  readonly step: HistoryStep<Beat>;
  readonly before: Beat | undefined;
  readonly after: Beat | undefined;
  /** What is open in it was left out. */
  readonly settled: boolean;
}

type Logged = Pick<StepPair, "before" | "after"> & { readonly label: string; readonly chars: number };

/** Knows which steps of a history are on disk, and makes of the others what is kept of them. */
export class StepLog {
  private logged = new Map<number, Logged>();
  private readonly given = new WeakMap<HistoryChanges, Map<number, Logged>>();

  /** @param start as it was loaded */
  constructor({ past, future }: History<Beat>) {
    for (const { number, label } of [...past, ...future])
      this.logged.set(number, { before: undefined, after: undefined, label, chars: 0 });
  }

  /**
   * What is to be written so that the disk has a history.
   * @param settle leaves out what is not to be in the beat on disk yet; a step that nothing is left of is none
   */
  changes(history: History<Beat>, settle: (beat: Beat) => Beat): HistoryChanges {
    const { past, future } = pairsOf(history, settle);
    const now = new Map<number, Logged>();
    const gone: number[] = [];
    const steps: KeptStep[] = [];
    for (const side of [past.toReversed(), future]) {
      let chars = 0;
      for (const pair of side.slice(0, KEPT_STEPS)) {
        const { number } = pair.step;
        if (isNothing(pair)) {
          gone.push(number);
          continue;
        }
        const known = this.logged.get(number);
        // Nor can it be kept, and from there on there is no way.
        if (!known && (pair.before === undefined || pair.after === undefined)) break;
        const kept = known && isLogged(known, pair) ? undefined : keptStep(pair);
        const entry = kept ? logged(pair, kept) : known!;
        if ((chars += entry.chars) > MAX_KEPT_CHARS) break;
        now.set(number, entry);
        if (kept) steps.push(kept);
      }
    }
    const numbers = [...now.keys()];
    const made = Math.max(0, ...past.map(({ step }) => step.number).filter((number) => now.has(number)));
    const [first, last] = [Math.min(Infinity, ...numbers), Math.max(0, ...numbers)];
    const changes = { made, first: Number.isFinite(first) ? first : 1, last, gone, steps };
    this.given.set(changes, now);
    return changes;
  }

  /** Nothing is on disk any more; what an earlier page made can't be made again. */
  forget(): void {
    this.logged = new Map();
  }

  /** What was given is on disk now. */
  written(changes: HistoryChanges): void {
    this.logged = this.given.get(changes) ?? this.logged;
  }
}

/** Every step of either side, from the oldest to the newest. */
function pairsOf({ past, present, future }: History<Beat>, settle: (beat: Beat) => Beat) {
  const settled = [...past.map(({ document }) => document), present, ...future.map(({ document }) => document)].map(
    (document) => (typeof document === "function" ? undefined : { document, beat: settle(document) }),
  );
  const pairOf = (step: HistoryStep<Beat>, at: number): StepPair => {
    const [before, after] = [settled[at], settled[at + 1]];
    const changed = before?.beat !== before?.document || after?.beat !== after?.document;
    return { step, before: before?.beat, after: after?.beat, settled: changed };
  };
  return {
    past: past.map(pairOf),
    future: future.map((step, index) => pairOf(step, past.length + index)),
  };
}

function isNothing({ before, after, settled }: StepPair): boolean {
  return settled && before !== undefined && after !== undefined && sameBesideIds(after, before);
}

function isLogged(known: Logged, { step, before, after }: StepPair): boolean {
  if (before === undefined || after === undefined) return true;
  return known.before === before && known.after === after && known.label === step.label;
}

function keptStep({ step: { number, label, atMs }, before, after }: StepPair): KeptStep {
  const text = (from: Beat | undefined, to: Beat | undefined) =>
    JSON.stringify(deltaBetween(from, to) ?? { fields: {} });
  return { number, label, atMs, back: text(after, before), forth: text(before, after) };
}

function logged({ step, before, after }: StepPair, { back, forth }: KeptStep): Logged {
  return { before, after, label: step.label, chars: back.length + forth.length };
}

/** True for what `changes` gives, of data from anywhere. */
export function isHistoryChanges(data: unknown): data is HistoryChanges {
  const { made, first, last, gone, steps } = (data ?? {}) as Partial<Record<keyof HistoryChanges, unknown>>;
  return (
    [made, first, last].every(Number.isInteger) &&
    Array.isArray(gone) &&
    Array.isArray(steps) &&
    steps.every(isKeptStep)
  );
}

/** @returns true for a step as it is kept, whether it fits or not */
function isKeptStep(data: unknown): data is KeptStep {
  const { number, label, atMs, back, forth } = (data ?? {}) as Partial<Record<keyof KeptStep, unknown>>;
  const texts = [label, back, forth].every((text) => typeof text === "string");
  return texts && Number.isInteger(number) && Number.isFinite(atMs);
}
