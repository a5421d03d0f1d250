"use client";

import type { ApexOptions } from "apexcharts";
import { useRef } from "react";
import Chart from "react-apexcharts";
import { useThemed } from "../theme/use-themed";
import { withoutMarkup } from "./without-markup";
import styles from "./report.module.scss";

export interface TimingChartProps {
  readonly title: string;
  readonly says: string;
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
export default function TimingChart({ title, says, labels, series, unit }: TimingChartProps) {
  // The library takes names for markup.
  const drawnLabels = labels.map(withoutMarkup);
  const frame = useRef<HTMLDivElement>(null);
  const colours = useThemed(frame, readColours);
  const spreads = series.some(({ values }) => values.some((value) => value && value.spread > 0));
  const data = series.map(({ name, values }) => ({
    name: withoutMarkup(name),
    data: values.map((value, index) => {
      if (!value) return { x: drawnLabels[index], y: spreads ? [0, 0] : 0 };
      const { mean, spread } = value;
      if (!spreads) return { x: drawnLabels[index], y: round(mean) };
      return {
        x: drawnLabels[index],
        y: [round(mean - Math.max(MARK, spread)), round(mean + Math.max(MARK, spread))],
        goals: [
          {
            name: "mean",
            value: round(mean),
            strokeColor: colours?.ink ?? "#000",
            strokeWidth: series.length > 1 ? 8 : 14,
            strokeHeight: 3,
          },
        ],
      };
    }),
  }));
  const options: ApexOptions = {
    chart: {
      animations: { enabled: false },
      toolbar: { show: false },
      zoom: { enabled: false },
      fontFamily: "inherit",
      foreColor: colours?.ink ?? "#000",
      background: "transparent",
    },
    colors: [colours?.brass ?? "#000", colours?.teal ?? "#000"],
    plotOptions: { bar: { columnWidth: "60%", borderRadius: 2 } },
    dataLabels: { enabled: false },
    grid: { borderColor: colours?.rule ?? "#ccc", padding: { top: -12, bottom: -6 } },
    xaxis: {
      labels: { rotate: -45, trim: false, style: { fontSize: "11px" } },
      tickPlacement: "on",
      axisTicks: { show: false },
    },
    yaxis: { labels: { formatter: (value) => value.toFixed(0) }, tickAmount: 4 },
    legend: { show: series.length > 1, position: "top", horizontalAlign: "right" },
    tooltip: { y: { formatter: (value) => `${value} ${unit}` }, theme: colours?.dark ? "dark" : "light" },
    ...(spreads && { annotations: { yaxis: [{ y: 0, borderColor: colours?.ink ?? "#000", strokeDashArray: 0 }] } }),
  };
  return (
    <figure ref={frame} className={styles.chart}>
      <figcaption>
        <strong>{title}</strong> <span>{says}</span>
      </figcaption>
      <p className="visually-hidden">{inWords(labels, series, unit)}</p>
      <div aria-hidden>
        {colours && <Chart type={spreads ? "rangeBar" : "bar"} height={HEIGHT} options={options} series={data} />}
      </div>
    </figure>
  );
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
