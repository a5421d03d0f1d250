"use client";

import { spreadsBy, type Spread, type TimingSample } from "@/core/analysis/timing-stats";
import type { Meter } from "@/core/time/meter";
import { formatPosition } from "@/core/time/position";
import type { Ticks } from "@/core/time/ticks";
import { useOfBeat, useUsedLanes } from "../workspace/use-workspace";
import styles from "./report.module.scss";
import { lazyView } from "../common/lazy-view";

/** Charts are large, and are fetched when they are looked at. */
const TimingChart = lazyView(() => import("./timing-chart"));

export interface Compared {
  readonly name: string;
  readonly samples: readonly TimingSample[];
}

/** The same playing by pad, beat, lap and line. */
export function ReportCharts({ compared }: { readonly compared: readonly Compared[] }) {
  const meter = useOfBeat(({ meter }) => meter);
  const pads = useUsedLanes();
  const padName = (key: number) => pads.find(({ id }) => id === key)?.name ?? String(key);
  const counted = (key: number) => `${key + 1}`;
  return (
    <div className={styles.charts}>
      <SpreadChart
        title="By pad"
        says="mean and spread, ms; below 0 is early"
        compared={compared}
        keyOf={({ pad }) => pad}
        labelOf={padName}
      />
      <SpreadChart
        title="By beat"
        says="mean and spread, ms"
        compared={compared}
        keyOf={({ beat }) => beat}
        labelOf={counted}
      />
      <SpreadChart
        title="By lap"
        says="do I lock in, do I drift? ms"
        compared={compared}
        keyOf={({ lap }) => lap}
        labelOf={counted}
      />
      <SpreadChart
        title="Velocity by line"
        says="mean"
        compared={compared}
        keyOf={({ line }) => line}
        labelOf={(key) => shortPosition(key, meter)}
        value="velocity"
      />
    </div>
  );
}

interface SpreadChartProps {
  readonly title: string;
  readonly says: string;
  readonly compared: readonly Compared[];
  readonly keyOf: (sample: TimingSample) => number | undefined;
  readonly labelOf: (key: number) => string;
  readonly value?: "ms" | "velocity";
}

/** Nothing where no hit has such a key. */
function SpreadChart({ title, says, compared, keyOf, labelOf, value = "ms" }: SpreadChartProps) {
  const groups = compared.map(({ name, samples }) => ({ name, spreads: spreadsBy(samples, keyOf) }));
  const keys = [...new Set(groups.flatMap(({ spreads }) => spreads.map(({ key }) => key)))].sort((a, b) => a - b);
  if (keys.length === 0) return null;
  const series = groups.map(({ name, spreads }) => {
    const byKey = new Map(spreads.map((spread) => [spread.key, valuesOf(spread, value)]));
    return { name, values: keys.map((key) => byKey.get(key)) };
  });
  const unit = value === "ms" ? "ms" : "";
  return <TimingChart title={title} says={says} labels={keys.map(labelOf)} series={series} unit={unit} />;
}

function valuesOf({ meanMs, spreadMs, meanVelocity }: Spread, value: "ms" | "velocity") {
  return value === "ms" ? { mean: meanMs, spread: spreadMs } : { mean: meanVelocity, spread: 0 };
}

/** Bar and beat, and the ticks only between beats. */
function shortPosition(ticks: number, meter: Meter): string {
  return formatPosition(ticks as Ticks, meter).replace(/\.000$/, "");
}
