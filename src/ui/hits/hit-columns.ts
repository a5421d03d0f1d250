import { lengthText, offsetText, placeText, type HitRow } from "@/core/editing/hit-rows";
import type { TypedField } from "@/core/editing/typed/typed-change";
import type { Meter } from "@/core/time/meter";

/** A column of the table of hits. */
export interface HitColumn {
  readonly id: "pattern" | "place" | "lane" | "velocity" | "length" | "offset" | "pass" | "state";
  readonly name: string;
  readonly text: (row: HitRow, meter: Meter) => string;
  readonly order: (row: HitRow) => number | string;
  /** What is typed there; without it nothing can be. */
  readonly field?: TypedField;
}

/** Of the hits of a pattern. */
export const HIT_COLUMNS: readonly HitColumn[] = [
  {
    id: "place",
    name: "Place",
    field: "place",
    text: ({ ticks }, meter) => placeText(ticks, meter),
    order: ({ ticks }) => ticks,
  },
  { id: "lane", name: "Pad", field: "lane", text: ({ laneName }) => laneName, order: ({ lane }) => lane },
  {
    id: "velocity",
    name: "Velocity",
    field: "velocity",
    text: ({ velocity }) => String(velocity),
    order: ({ velocity }) => velocity,
  },
  {
    id: "length",
    name: "Length",
    field: "length",
    text: ({ lengthTicks }) => lengthText(lengthTicks),
    order: ({ lengthTicks }) => lengthTicks,
  },
  {
    id: "offset",
    name: "ms late",
    field: "offset",
    text: ({ offMs }) => offsetText(offMs),
    order: ({ offMs }) => offMs,
  },
  { id: "pass", name: "Pass", text: ({ passName }) => passName, order: ({ passName }) => passName },
  { id: "state", name: "", text: stateText, order: stateText },
];

/** Of the hits of a whole part. */
export const PART_COLUMNS: readonly HitColumn[] = [
  { id: "pattern", name: "Pattern", text: ({ patternName }) => patternName, order: ({ patternName }) => patternName },
  ...HIT_COLUMNS,
];

function stateText({ state, byHand }: HitRow): string {
  const said = { heard: "", covered: "covered", double: "double trigger" }[state];
  return [said, byHand ? "by hand" : ""].filter(Boolean).join(", ");
}

export interface Sorting {
  readonly column: HitColumn["id"];
  readonly down: boolean;
}

/** Rows in the order of a column; those that are equal there stay in time. */
export function sortedRows(rows: readonly HitRow[], { column, down }: Sorting): readonly HitRow[] {
  if (column === "place" && !down) return rows;
  const { order } = PART_COLUMNS.find(({ id }) => id === column)!;
  const sign = down ? -1 : 1;
  const compare = (a: HitRow, b: HitRow) => {
    const [left, right] = [order(a), order(b)];
    return left === right ? 0 : left < right ? -sign : sign;
  };
  return rows.toSorted(compare);
}
