import type { PlayedPart } from "./drum-part";
import { usualGap, type PlayedSteps } from "./played-steps";
import type { PulseGuess } from "../pulse/pulse-search";

const USUAL_BPM = 118;
/** Tempi at which what the tempo says may turn, in BPM. */
const HINGES_BPM = [55, 65, 75, 90, 105, 118, 128, 140, 150, 165, 185, 200] as const;

const GROUPS: Readonly<Record<string, readonly PlayedPart[]>> = {
  hats: ["hat", "ride", "openHat"],
  kick: ["kick"],
  snare: ["snare", "stick"],
};
/** How far strokes of a group are mostly apart, in quarters. */
const GAPS: Readonly<Record<string, readonly number[]>> = {
  hats: [0.25, 0.34, 0.5, 1, 2],
  kick: [0.5, 1, 2, 4],
  snare: [0.5, 1, 2, 4],
};
/** A gap is taken for another one within so many octaves. */
const SAME_GAP = 0.2;
/** A stroke so far off is of no line. */
const STRAY_SECONDS = 0.06;
/** A stroke's time is explained so badly, in nats. */
const POOR_GRIDS = [0.4, 0.8, 1.4] as const;
const FEELS = [2, 3, 6] as const;
const COUNTED = ["moments", "strokes", ...Object.keys(GROUPS)];
/** What so many in a quarter say may turn at these, as powers of two. */
const HINGED_COUNTS = ["moments", "hats", "kick"];
const HINGES_LOG2 = [0, 1, 2] as const;

const GAP_NAMES = Object.entries(GAPS).flatMap(([group, gaps]) => gaps.map((gap) => `${group} ${gap} apart`));
export const PULSE_FEATURES: readonly string[] = [
  "grid, all evidence",
  "grid, by root",
  ...POOR_GRIDS.map((poor) => `grid below ${poor}`),
  "tempo",
  "tempo squared",
  ...HINGES_BPM.map((bpm) => `tempo above ${bpm}`),
  ...FEELS.map((count) => `${count} steps played in a quarter`),
  "eighths, by tempo",
  "triplets, by tempo",
  ...COUNTED.flatMap((what) => [
    `${what} in a quarter`,
    `${what} in a quarter, squared`,
    ...hingesOf(what).map((hinge) => `${what} in a quarter above ${2 ** hinge}`),
  ]),
  ...GAP_NAMES,
  ...GAP_NAMES.map((name) => `${name}, by tempo`),
  "strays",
];

function hingesOf(counted: string): readonly number[] {
  return HINGED_COUNTS.includes(counted) ? HINGES_LOG2 : [];
}

/** The logarithm of a tempo, 0 where it is usual. @example tempoOf({ quarterSeconds: 60 / 118 }) // 0 */
export function tempoOf({ quarterSeconds }: PulseGuess): number {
  return Math.log(60 / quarterSeconds / USUAL_BPM);
}

/**
 * What a pulse has to say for itself, whatever its bars.
 * @param evidence how many strokes' worth all of it is
 * @returns in the order of PULSE_FEATURES
 */
export function pulseFeatures(pulse: PulseGuess, played: PlayedSteps, evidence: number): readonly number[] {
  const { strokes, steps, perQuarter } = played;
  const tempo = tempoOf(pulse);
  const { playedPerQuarter: feel, grid } = pulse;
  const quarters = Math.max(1, (steps.at(-1)! + 1) / perQuarter);
  const groups = Object.entries(GROUPS).map(([name, parts]) => ({
    name,
    own: steps.filter((_, index) => parts.includes(strokes[index]!.part)),
  }));
  const counts = [new Set(steps).size, steps.length, ...groups.map(({ own }) => own.length)];
  const densities = counts.map((count) => (count === 0 ? 0 : Math.log2((count + 0.5) / quarters)));
  const gaps = groups.flatMap(({ name, own }) => {
    const gap = usualGap(own) / perQuarter;
    return GAPS[name]!.map((other) => (gap > 0 && Math.abs(Math.log2(gap / other)) < SAME_GAP ? 1 : 0));
  });
  return [
    (evidence / 10) * grid,
    Math.sqrt(evidence) * grid,
    ...POOR_GRIDS.map((poor) => Math.max(0, poor - grid)),
    tempo,
    tempo * tempo,
    ...HINGES_BPM.map((bpm) => Math.max(0, tempo - Math.log(bpm / USUAL_BPM))),
    ...FEELS.map((count) => (feel === count ? 1 : 0)),
    feel === 2 ? tempo : 0,
    feel % 3 === 0 ? tempo : 0,
    ...densities.flatMap((density, index) => [
      density,
      density * density,
      ...hingesOf(COUNTED[index]!).map((hinge) => Math.max(0, density - hinge)),
    ]),
    ...gaps,
    ...gaps.map((gap) => gap * tempo),
    pulse.alignment.misses.filter((miss) => Math.abs(miss) > STRAY_SECONDS).length / pulse.alignment.misses.length,
  ];
}
