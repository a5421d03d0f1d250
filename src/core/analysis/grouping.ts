import type { TimingSample } from "./timing-stats";

/** More groups than this cannot be told apart in a chart, and each costs its drawing. */
const MOST_GROUPS = 32;

/** One way to put samples together. */
export interface Grouping {
  readonly keyOf: (sample: TimingSample) => number | undefined;
  readonly labelOf: (key: number) => string;
  /** Said where the groups are not the ones that the chart is named after. */
  readonly note?: string;
}

/**
 * The first grouping that leaves no more groups than a chart can show, or the last one.
 * @param groupings from the finest to the coarsest, at least one
 */
export function readableGrouping(samples: readonly TimingSample[], groupings: readonly Grouping[]): Grouping {
  const isReadable = ({ keyOf }: Grouping) => new Set(samples.map(keyOf)).size <= MOST_GROUPS;
  return groupings.find(isReadable) ?? groupings.at(-1)!;
}

/**
 * Groupings that put 1, 2, 4 … 128 neighbouring keys together; keys are whole and not negative.
 * @example joiningNeighbours({ keyOf: ({ lap }) => lap, labelOf: (lap) => `${lap + 1}` })[2]!.labelOf(1) // "5–8"
 */
export function joiningNeighbours({ keyOf, labelOf }: Grouping): readonly Grouping[] {
  return [1, 2, 4, 8, 16, 32, 64, 128].map((size) => ({
    keyOf: (sample) => {
      const key = keyOf(sample);
      return key === undefined ? undefined : Math.floor(key / size);
    },
    labelOf: (group) => (size === 1 ? labelOf(group) : `${labelOf(group * size)}–${labelOf(group * size + size - 1)}`),
  }));
}
