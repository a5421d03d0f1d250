/** How many whole bars were meant, from a bar line on. */
export interface PhraseLength {
  /** The step of the first bar line. */
  readonly line: number;
  readonly bars: number;
  /** Logarithm of how likely it is. */
  readonly rank: number;
}

/** Lengths that are usual, as shares (common practice, no source). */
const USUAL: Readonly<Record<number, number>> = {
  1: 0.08,
  2: 0.3,
  3: 0.05,
  4: 0.3,
  5: 0.03,
  6: 0.05,
  8: 0.3,
  12: 0.03,
  16: 0.08,
};
const UNUSUAL = 0.006;
/** Playing begins on a bar line, with a pick-up of up to a beat, anywhere, or after a rest: logarithms of likelihoods. */
const BEGINS = { line: 2.6, pickup: 0.8, anywhere: 0, restPerBar: -5 };
/** It ends before a bar line with little silence left, on one, or in the next bar. */
const ENDS = { before: 2.4, silencePerBar: -8, on: 1.3, beyond: 0 };

/** Where strokes are, in steps. */
export interface PlayedSpan {
  readonly first: number;
  readonly last: number;
  /** How far strokes are mostly apart. */
  readonly gap: number;
}

export interface KnownLength {
  readonly line?: number | undefined;
  readonly bars?: number | undefined;
}

/**
 * How many whole bars were meant, from where playing begins and ends between bar lines.
 * @param barStep a step at which a bar begins
 * @param known what the player says about it
 */
export function phraseLength(
  { first, last, gap }: PlayedSpan,
  barStep: number,
  barSteps: number,
  perQuarter: number,
  known: KnownLength,
): PhraseLength {
  const firstLine = Math.ceil((first - barStep) / barSteps) * barSteps + barStep;
  let best: PhraseLength = { line: known.line ?? firstLine, bars: known.bars ?? 1, rank: -Infinity };
  for (const line of known.line === undefined ? [firstLine, firstLine - barSteps] : [known.line]) {
    const begin = beginRank((first - line) / barSteps, perQuarter / barSteps);
    const played = (last - line) / barSteps;
    const whole = Math.floor(played);
    for (const bars of known.bars === undefined ? [whole, whole + 1] : [known.bars]) {
      if (bars < 1) continue;
      const rank = begin + endRank(played, bars, gap / barSteps) + Math.log(USUAL[bars] ?? UNUSUAL);
      if (rank > best.rank) best = { line, bars, rank };
    }
  }
  return best;
}

/** @param bars from the first bar line to the first stroke, negative with a pick-up. @param beat as a share of a bar */
function beginRank(bars: number, beat: number): number {
  if (bars > 0) return BEGINS.restPerBar * bars;
  if (bars === 0) return BEGINS.line;
  return -bars <= beat ? BEGINS.pickup : BEGINS.anywhere;
}

/**
 * @param played bars from the first bar line to the last stroke
 * @param gap between strokes, as a share of a bar
 */
function endRank(played: number, bars: number, gap: number): number {
  if (bars > played) return ENDS.before + ENDS.silencePerBar * Math.max(0, bars - played - gap);
  return played === bars ? ENDS.on : ENDS.beyond;
}
