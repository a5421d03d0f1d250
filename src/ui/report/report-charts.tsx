"use client";

import { spreadsBy, type Spread, type TimingSample } from "@/core/analysis/timing-stats";
import { joiningNeighbours, readableGrouping, type Grouping } from "@/core/analysis/grouping";
import { barTicks, type Meter } from "@/core/time/meter";
import { formatPosition } from "@/core/time/position";
import { asTicks } from "@/core/time/ticks";
import { useOfBeat, useUsedLanes } from "../workspace/use-workspace";
import styles from "./report.module.scss";
import { lazyView } from "../common/lazy-view";

/** Charts are large, and are fetched when they are looked at. */
const TimingChart = lazyView(() => import("./timing-chart"));

export interface Compared {
  readonly name: string;
  readonly samples: readonly TimingSample[];
}

/** Charts of one playing by pad, beat, lap and line; long patterns by beat and line of the bar. */
export function ReportCharts({ compared }: { readonly compared: readonly Compared[] }) {
  const meter = useOfBeat(({ meter }) => meter);
  const pads = useUsedLanes();
  const padName = (key: number) => pads.find(({ id }) => id === key)?.name ?? String(key);
  const counted = (key: number) => `${key + 1}`;
  const position = (ticks: number) => shortPosition(ticks, meter);
  return (
    <div className={styles.charts}>
      <SpreadChart
        title="By pad"
        description="mean and spread, ms; below 0 is early"
        compared={compared}
        groupings={joiningNeighbours({ keyOf: ({ pad }) => pad, labelOf: padName })}
      />
      <SpreadChart
        title="By beat"
        description="mean and spread, ms"
        compared={compared}
        groupings={[
          { keyOf: ({ beat }) => beat, labelOf: counted },
          { keyOf: ({ beat }) => beat % meter.beats, labelOf: counted, note: "of each bar" },
        ]}
      />
      <SpreadChart
        title="By lap"
        description="do I lock in, do I drift? ms"
        compared={compared}
        groupings={joiningNeighbours({ keyOf: ({ lap }) => lap, labelOf: counted })}
      />
      <SpreadChart
        title="Velocity by line"
        description="mean"
        compared={compared}
        groupings={[
          { keyOf: ({ line }) => line, labelOf: position },
          { keyOf: ({ line }) => line % barTicks(meter), labelOf: position, note: "of each bar" },
          { keyOf: ({ beat }) => beat % meter.beats, labelOf: counted, note: "by beat of each bar" },
        ]}
        value="velocity"
      />
    </div>
  );
}

interface SpreadChartProps {
  readonly title: string;
  readonly description: string;
  readonly compared: readonly Compared[];
  /** From the finest to the coarsest. */
  readonly groupings: readonly Grouping[];
  readonly value?: "ms" | "velocity";
}

/** Nothing where no hit has such a key. */
function SpreadChart({ title, description, compared, groupings, value = "ms" }: SpreadChartProps) {
  const all = compared.flatMap(({ samples }) => samples);
  const { keyOf, labelOf, note } = readableGrouping(all, groupings);
  const groups = compared.map(({ name, samples }) => ({ name, spreads: spreadsBy(samples, keyOf) }));
  const keys = [...new Set(groups.flatMap(({ spreads }) => spreads.map(({ key }) => key)))].sort((a, b) => a - b);
  if (keys.length === 0) return null;
  const series = groups.map(({ name, spreads }) => {
    const byKey = new Map(spreads.map((spread) => [spread.key, valuesOf(spread, value)]));
    return { name, values: keys.map((key) => byKey.get(key)) };
  });
  const unit = value === "ms" ? "ms" : "";
  const saying = note === undefined ? description : `${note}; ${description}`;
  return <TimingChart title={title} description={saying} labels={keys.map(labelOf)} series={series} unit={unit} />;
}

function valuesOf({ meanMs, spreadMs, meanVelocity }: Spread, value: "ms" | "velocity") {
  return value === "ms" ? { mean: meanMs, spread: spreadMs } : { mean: meanVelocity, spread: 0 };
}

/** Bar and beat, and the ticks only between beats. */
function shortPosition(ticks: number, meter: Meter): string {
  return formatPosition(asTicks(ticks), meter).replace(/\.000$/, "");
}
