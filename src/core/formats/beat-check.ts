import type { Beat, Pass, Pattern } from "../beat/beat";
import { CoreError } from "../core-error";
import { checkBeat, checkCounts } from "./beat-file";

/** Tells of a beat whether it could be written and read back. */
export interface BeatCheck {
  /** Marks a beat as good, because it was checked when it was read. */
  trust(beat: Beat): void;
  /** @returns what is wrong and where, in words; undefined where it can be read back. Only what is new is looked at */
  problemIn(beat: Beat): string | undefined;
}

/**
 * Beats share what an edit leaves alone, so the next one costs as much as was changed. What was found good is known by identity.
 * That ids are given once is for who gives them.
 * @example of a pad at 999 dB: "/beat/parts/0/pads/0/mix/levelDb: must be <= 12, got 999"
 */
export function newBeatCheck(): BeatCheck {
  const known = new WeakSet<object>();
  const trust = (beat: Beat) => {
    for (const { patterns } of beat.parts)
      for (const pattern of patterns) {
        if (known.has(pattern)) continue;
        for (const pass of pattern.passes) known.add(pass).add(pass.hits);
        known.add(pattern).add(pattern.points ?? pattern);
      }
  };
  return {
    trust,
    problemIn(beat) {
      try {
        const patterns = (all: readonly Pattern[]) => all.map((pattern) => whatIsNew(pattern, known));
        checkBeat({ ...beat, parts: beat.parts.map((part) => ({ ...part, patterns: patterns(part.patterns) })) });
        checkCounts(beat);
      } catch (error) {
        if (error instanceof CoreError) return error.problems[0] ?? error.message;
        throw error;
      }
      knowHits(beat, known);
      trust(beat);
      return undefined;
    },
  };
}

/** A pattern, and of what is in it only what is not known to be good. */
function whatIsNew(pattern: Pattern, known: WeakSet<object>): Pattern {
  const { id, name, bars, alternateOf, passes, points } = pattern;
  if (known.has(pattern)) return { id, name, bars, passes: [], ...(alternateOf !== undefined && { alternateOf }) };
  const fresh = { ...pattern, passes: passes.map((pass) => newOfPass(pass, known)) };
  return points && known.has(points) ? { ...fresh, points: [] } : fresh;
}

function newOfPass(pass: Pass, known: WeakSet<object>): Pass {
  return { ...pass, hits: known.has(pass.hits) ? [] : pass.hits.filter((hit) => !known.has(hit)) };
}

/** Hits are known one by one from their pass's first change on. */
function knowHits({ parts }: Beat, known: WeakSet<object>): void {
  for (const { patterns } of parts)
    for (const { passes } of patterns.filter((pattern) => !known.has(pattern)))
      for (const { hits } of passes.filter((pass) => !known.has(pass.hits))) for (const hit of hits) known.add(hit);
}
