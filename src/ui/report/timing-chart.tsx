"use client";

import type { ApexOptions } from "apexcharts";
import { useRef } from "react";
import Chart from "react-apexcharts";
import { useThemed } from "../theme/use-themed";
import { withoutMarkup } from "./without-markup";
import styles from "./report.module.scss";

export interface TimingChartProps {
  readonly title: string;
  readonly description: string;
  readonly labels: readonly string[];
  readonly series: readonly {
    readonly name: string;
    readonly values: readonly ({ readonly mean: number; readonly spread: number } | undefined)[];
  }[];
  readonly unit: string;
}

const HEIGHT = 190;
/** Half the width of the mark of a mean, in the unit of the chart. */
const MARK = 0.4;

/** Means with what lies one spread around them, as bars; figures for a screen reader are in the text beside it. */
export default function TimingChart({ title, description, labels, series, unit }: TimingChartProps) {
  const frame = useRef<HTMLDivElement>(null);
  const colours = useThemed(frame, readColours);
  const spreads = series.some(({ values }) => values.some((value) => value && value.spread > 0));
  return (
    <figure ref={frame} className={styles.chart}>
      <figcaption>
        <strong>{title}</strong> <span>{description}</span>
      </figcaption>
      <p className="visually-hidden">{inWords(labels, series, unit)}</p>
      <div aria-hidden>
        {colours && (
          <Chart
            type={spreads ? "rangeBar" : "bar"}
            height={HEIGHT}
            options={optionsOf(colours, unit, spreads, series.length > 1)}
            series={drawn(labels, series, spreads, colours)}
          />
        )}
      </div>
    </figure>
  );
}

type Colours = ReturnType<typeof readColours>;

/** What the chart library draws of it, which takes names for markup. */
function drawn(
  labels: TimingChartProps["labels"],
  series: TimingChartProps["series"],
  spreads: boolean,
  { ink }: Colours,
) {
  const mark = { name: "mean", strokeColor: ink, strokeWidth: series.length > 1 ? 8 : 14, strokeHeight: 3 };
  return series.map(({ name, values }) => ({
    name: withoutMarkup(name),
    data: values.map((value, index) => {
      const x = withoutMarkup(labels[index]!);
      if (!value) return { x, y: spreads ? [0, 0] : 0 };
      const { mean, spread } = value;
      if (!spreads) return { x, y: round(mean) };
      const half = Math.max(MARK, spread);
      return { x, y: [round(mean - half), round(mean + half)], goals: [{ ...mark, value: round(mean) }] };
    }),
  }));
}

function optionsOf(colours: Colours, unit: string, spreads: boolean, several: boolean): ApexOptions {
  const { ink, brass, teal, rule, dark } = colours;
  return {
    chart: {
      animations: { enabled: false },
      toolbar: { show: false },
      zoom: { enabled: false },
      fontFamily: "inherit",
      foreColor: ink,
      background: "transparent",
    },
    colors: [brass, teal],
    plotOptions: { bar: { columnWidth: "60%", borderRadius: 2 } },
    dataLabels: { enabled: false },
    grid: { borderColor: rule, padding: { top: -12, bottom: -6 } },
    xaxis: {
      labels: { rotate: -45, trim: false, style: { fontSize: "11px" } },
      tickPlacement: "on",
      axisTicks: { show: false },
    },
    yaxis: { labels: { formatter: (value) => value.toFixed(0) }, tickAmount: 4 },
    legend: { show: several, position: "top", horizontalAlign: "right" },
    tooltip: { y: { formatter: (value) => `${value} ${unit}` }, theme: dark ? "dark" : "light" },
    ...(spreads && { annotations: { yaxis: [{ y: 0, borderColor: ink, strokeDashArray: 0 }] } }),
  };
}

function inWords(labels: readonly string[], series: TimingChartProps["series"], unit: string): string {
  return series
    .map(
      ({ name, values }) =>
        `${name}: ${values
          .flatMap((value, index) => (value ? [`${labels[index]} ${round(value.mean)} ${unit}`] : []))
          .join(", ")}.`,
    )
    .join(" ");
}

function round(value: number): number {
  return Math.round(value * 10) / 10;
}

function readColours(element: Element) {
  const style = getComputedStyle(element);
  const colour = (name: string) => style.getPropertyValue(`--${name}`).trim();
  const dark = document.documentElement.dataset.bsTheme === "dark";
  return { ink: colour("ink"), brass: colour("brass"), teal: colour("teal"), rule: colour("rule"), dark };
}
