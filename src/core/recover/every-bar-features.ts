import type { BarSteps } from "./bar-steps";
import { runningCount, type StruckSteps } from "./played-steps";

/** Which share of bars has what: one coherent feel is more than its places one by one. */
const SHARES = [
  "kick on 1",
  "kick on 3",
  "snare on 2 and 4",
  "snare on 3",
  "snare on 1",
  "stick on 2 and 4",
  "low drum on 1",
  "hats on beats",
  "hats on eighths",
  "hats on all steps",
  "kick on 1 and snare on 2 and 4",
  "kick on 1 and snare on 3",
  "low drum on 1 and snare on 2 and 4",
  "nothing on 1",
  "bass on 1",
  "of two beats kick on one and snare on the other",
] as const;
/** These say more or less as the tempo is fast or slow. */
const BY_TEMPO = [0, 2, 3, 8, 9, 10, 11] as const;

export const EVERY_BAR_FEATURES: readonly string[] = [...SHARES, ...BY_TEMPO.map((at) => `${SHARES[at]}, by tempo`)];

/**
 * @param tempo its logarithm, 0 where it is usual
 * @returns what bars have that begin at a step, in the order of EVERY_BAR_FEATURES
 */
export function everyBarFeatures(
  struck: StruckSteps,
  bar: BarSteps,
  perQuarter: number,
  tempo: number,
): (line: number) => number[] {
  const { kick, snare, stick, hats, low, bass, any } = struck;
  const length = any.length;
  const { at, backs, beats, eighths } = bar;
  const hatsBefore = runningCount(hats);
  const sums = new Float64Array(SHARES.length);
  return (line) => {
    sums.fill(0);
    let bars = 0;
    for (let start = line - bar.count; start < length; start += bar.count) {
      // What is played of a bar is so much of it.
      const [from, to] = [Math.max(0, start), Math.min(length, start + bar.count)];
      if (to <= from) continue;
      const part = (to - from) / bar.count;
      bars += part;
      const kick1 = shareOf(kick, start, at.downbeat);
      const low1 = shareOf(low, start, at.downbeat);
      const snare24 = shareOf(snare, start, backs);
      const snare3 = shareOf(snare, start, at.middle);
      // In the order of SHARES.
      sums[0]! += part * kick1;
      sums[1]! += part * shareOf(kick, start, at.middle);
      sums[2]! += part * snare24;
      sums[3]! += part * snare3;
      sums[4]! += part * shareOf(snare, start, at.downbeat);
      sums[5]! += part * shareOf(stick, start, backs);
      sums[6]! += part * low1;
      sums[7]! += part * shareOf(hats, start, beats);
      sums[8]! += part * shareOf(hats, start, eighths);
      if (perQuarter >= 4) sums[9]! += (part * (hatsBefore[to]! - hatsBefore[from]!)) / (to - from);
      sums[10]! += part * kick1 * snare24;
      sums[11]! += part * kick1 * snare3;
      sums[12]! += part * low1 * snare24;
      if (start >= 0 && any[start] === 0) sums[13]! += part;
      sums[14]! += part * shareOf(bass, start, at.downbeat);
      if (backs.length === 1) sums[15]! += part * kick1 * snare24;
    }
    const shares = Array.from(sums, (sum) => sum / bars);
    for (const index of BY_TEMPO) shares.push(tempo * shares[index]!);
    return shares;
  };
}

/** Of places of a bar, as far as it is played, the share that is struck. */
function shareOf(struck: Float64Array, start: number, steps: readonly number[]): number {
  let [there, thinkable] = [0, 0];
  for (let index = 0; index < steps.length; index++) {
    const step = start + steps[index]!;
    if (step < 0 || step >= struck.length) continue;
    thinkable++;
    if (struck[step]! > 0) there++;
  }
  return thinkable === 0 ? 0 : there / thinkable;
}
