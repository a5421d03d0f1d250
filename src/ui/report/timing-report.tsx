"use client";

import dynamic from "next/dynamic";
import { useDeferredValue, useMemo, useState } from "react";
import {
  spreadOf,
  spreadsBy,
  timingCsv,
  timingSamples,
  type Spread,
  type TimingSample,
} from "@/core/analysis/timing-stats";
import { advisePattern } from "@/core/analysis/pattern-advice";
import { openPasses } from "@/core/beat/beat";
import { formatPosition } from "@/core/time/position";
import type { Ticks } from "@/core/time/ticks";
import { STRAIGHT } from "@/core/timing/swing";
import { download, fileNameOf } from "../common/download";
import { SettingSelect } from "../common/setting-select";
import { useBeat, useOpenPart, useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./report.module.scss";
import { timingSummary } from "./timing-words";

/** Charts are large, and are fetched when they are looked at. */
const TimingChart = dynamic(() => import("./timing-chart"), { ssr: false });

const NONE = "";

/** How the pattern was played, in figures, pictures and words; and beside another pass. */
export function TimingReport({ onClose }: { onClose(): void }) {
  const beat = useBeat();
  const { pads } = useOpenPart();
  const pattern = useDeferredValue(useOpenPattern());
  const { bpm, meter, inputQuantize } = beat;
  const [first, setFirst] = useState(NONE);
  const [second, setSecond] = useState(NONE);
  const [straight, setStraight] = useState(false);
  const place = useWorkspaceState((state) => state.place);
  const advice = advisePattern(beat, place, undefined, inputQuantize.grid);
  const found = advice?.family === "swung" ? { ratio: advice.swingPercent / 100, unit: advice.swingUnit! } : undefined;
  const { ratio, unit } = (!straight && found) || STRAIGHT;
  const samples = useMemo(
    () => timingSamples(pattern, meter, bpm, inputQuantize, { ratio, unit }),
    [pattern, meter, bpm, inputQuantize, ratio, unit],
  );
  const passes = openPasses(pattern).filter(({ hits }) => hits.length > 0);
  const ofPass = (key: string) => samples.filter(({ passId }) => String(passId) === key);
  const nameOf = (key: string) => passes.find(({ id }) => String(id) === key)?.name;
  const compared = [
    { name: nameOf(first) ?? "all passes", samples: nameOf(first) ? ofPass(first) : samples },
    ...(nameOf(second) ? [{ name: nameOf(second)!, samples: ofPass(second) }] : []),
  ];
  const names = Object.fromEntries(passes.map(({ id, name }) => [String(id), name]));
  const chart = (title: string, says: string, keyOf: Key, labelOf: (key: number) => string, value: Value) => {
    const groups = compared.map((one) => ({ name: one.name, spreads: spreadsBy(one.samples, keyOf) }));
    const keys = [...new Set(groups.flatMap(({ spreads }) => spreads.map(({ key }) => key)))].sort((a, b) => a - b);
    if (keys.length === 0) return null;
    const series = groups.map(({ name, spreads }) => {
      const byKey = new Map(spreads.map((spread) => [spread.key, spread]));
      return {
        name,
        values: keys.map((key) => {
          const spread = byKey.get(key);
          return spread ? valuesOf(spread, value) : undefined;
        }),
      };
    });
    return <TimingChart title={title} says={says} labels={keys.map(labelOf)} series={series} unit={UNITS[value]} />;
  };
  return (
    <section className={styles.view} aria-label="Timing report">
      <header className={styles.head}>
        <h2>Timing of {pattern.name}</h2>
        {found && (
          <SettingSelect
            label="Measured by"
            value={straight ? "straight" : "swung"}
            options={{ swung: `the swing played, ${(found.ratio * 100).toFixed(0)} %`, straight: "straight lines" }}
            onChange={(value) => setStraight(value === "straight")}
          />
        )}
        <SettingSelect label="Of" value={first} options={{ [NONE]: "all passes", ...names }} onChange={setFirst} />
        <SettingSelect label="Beside" value={second} options={{ [NONE]: "nothing", ...names }} onChange={setSecond} />
        <button
          type="button"
          className="btn"
          disabled={samples.length === 0}
          onClick={() =>
            download(timingCsv(samples, pattern, pads), `${fileNameOf(beat.name)} (timing).csv`, "text/csv")
          }
        >
          Export CSV
        </button>
        <button type="button" className="btn" onClick={onClose}>
          Back to the lanes
        </button>
      </header>
      <div className={styles.words}>
        <div>
          {compared.map(({ name, samples: own }) => (
            <section key={name}>
              <h3>{name}</h3>
              {timingSummary(own, pads).map((line) => (
                <p key={line}>{line}</p>
              ))}
            </section>
          ))}
        </div>
        <PassTable passes={passes.map(({ id, name }) => ({ name, spread: spreadOf(ofPass(String(id))) }))} />
      </div>
      <div className={styles.charts}>
        {chart("By pad", "mean and spread, ms; below 0 is early", ({ pad }) => pad, padName(pads), "ms")}
        {chart(
          "By beat",
          "mean and spread, ms",
          (sample) => sample.beat,
          (key) => `${key + 1}`,
          "ms",
        )}
        {chart(
          "By lap",
          "do I lock in, do I drift? ms",
          ({ lap }) => lap,
          (key) => `${key + 1}`,
          "ms",
        )}
        {chart(
          "Velocity by line",
          "mean",
          ({ line }) => line,
          (key) => shortPosition(key, meter),
          "velocity",
        )}
      </div>
    </section>
  );
}

type Key = (sample: TimingSample) => number | undefined;
type Value = "ms" | "velocity";
const UNITS: Readonly<Record<Value, string>> = { ms: "ms", velocity: "" };

function valuesOf({ meanMs, spreadMs, meanVelocity }: Spread, value: Value) {
  return value === "ms" ? { mean: meanMs, spread: spreadMs } : { mean: meanVelocity, spread: 0 };
}

function padName(pads: readonly { readonly id: number; readonly name: string }[]) {
  return (key: number) => pads.find(({ id }) => id === key)?.name ?? String(key);
}

/** Bar and beat, and the ticks only between beats. */
function shortPosition(ticks: number, meter: Parameters<typeof formatPosition>[1]): string {
  return formatPosition(ticks as Ticks, meter).replace(/\.000$/, "");
}

function PassTable({
  passes,
}: {
  readonly passes: readonly { readonly name: string; readonly spread: Spread | undefined }[];
}) {
  const figure = (value: number) => value.toFixed(1);
  return (
    <table className={styles.table}>
      <thead>
        <tr>
          <th scope="col">Pass</th>
          <th scope="col">Hits</th>
          <th scope="col">Mean, ms late</th>
          <th scope="col">Spread, ms</th>
          <th scope="col">Velocity</th>
        </tr>
      </thead>
      <tbody>
        {passes.map(({ name, spread }, index) => (
          <tr key={index}>
            <th scope="row">{name}</th>
            {spread ? (
              <>
                <td>{spread.hits}</td>
                <td>{figure(spread.meanMs)}</td>
                <td>{figure(spread.spreadMs)}</td>
                <td>{spread.meanVelocity.toFixed(0)}</td>
              </>
            ) : (
              <td colSpan={4}>no hit in the loop</td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
