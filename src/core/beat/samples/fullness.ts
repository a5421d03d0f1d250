import { MAX_DERIVED_SECONDS, MAX_HITS, MAX_PASSES, MAX_SAMPLES, NEAR_LIMIT } from "../../limits";
import { hitCount, type Beat } from "../beat";
import { derivedSeconds } from "./derived-sounds";
import { samplesIn } from "./pad-samples";

/** How much a beat holds of what it may hold. */
interface Measure {
  readonly count: number;
  readonly most: number;
  readonly what: string;
}

function measures(beat: Beat): readonly Measure[] {
  const passes = beat.parts.reduce(
    (sum, { patterns }) => sum + patterns.reduce((inPart, pattern) => inPart + pattern.passes.length, 0),
    0,
  );
  return [
    { count: hitCount(beat), most: MAX_HITS, what: "hits" },
    { count: passes, most: MAX_PASSES, what: "passes" },
    { count: samplesIn(beat).length, most: MAX_SAMPLES, what: "samples" },
    { count: Math.ceil(derivedSeconds(beat)), most: MAX_DERIVED_SECONDS, what: "seconds of tuned and cut sounds" },
  ];
}

/**
 * @returns why a beat can't become another one, which would hold more than a file may; undefined where it can
 * @example tooFull(beat, beat) // undefined
 */
export function tooFull(before: Beat, after: Beat): string | undefined {
  const had = measures(before);
  const over = measures(after).find(({ count, most }, index) => count > most && count > had[index]!.count);
  return over && `A beat holds ${over.most.toLocaleString("en")} ${over.what} at the most; nothing was added.`;
}

/**
 * @returns what to tell when a change has brought a beat near a limit; undefined where it has not
 * @example nearlyFull(beat, beat) // undefined
 */
export function nearlyFull(before: Beat, after: Beat): string | undefined {
  const had = measures(before);
  const near = measures(after).find(({ count, most }, index) => {
    const limit = NEAR_LIMIT * most;
    return count >= limit && had[index]!.count < limit;
  });
  if (!near) return undefined;
  const { count, most, what } = near;
  return `This beat has ${count.toLocaleString("en")} ${what}; ${most.toLocaleString("en")} are the most.`;
}
