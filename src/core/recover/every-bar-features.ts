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
      const values = [
        kick1,
        shareOf(kick, start, at.middle),
        snare24,
        snare3,
        shareOf(snare, start, at.downbeat),
        shareOf(stick, start, backs),
        low1,
        shareOf(hats, start, beats),
        shareOf(hats, start, eighths),
        perQuarter < 4 ? 0 : (hatsBefore[to]! - hatsBefore[from]!) / (to - from),
        kick1 * snare24,
        kick1 * snare3,
        low1 * snare24,
        start >= 0 && any[start] === 0 ? 1 : 0,
        shareOf(bass, start, at.downbeat),
        backs.length === 1 ? kick1 * snare24 : 0,
      ];
      for (let index = 0; index < values.length; index++) sums[index]! += part * values[index]!;
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
