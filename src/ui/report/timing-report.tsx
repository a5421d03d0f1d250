"use client";

import { useState } from "react";
import { spreadOf, timingCsv } from "@/core/analysis/timing-stats";
import { download, fileNameOf } from "../common/download";
import { SettingSelect } from "../common/fields/setting-select";
import { useOfBeat, useUsedLanes } from "../workspace/use-workspace";
import { PassTable } from "./pass-table";
import { ReportCharts } from "./report-charts";
import styles from "./report.module.scss";
import { timingSummary } from "./timing-words";
import { useMeasured, type Measured } from "./use-measured";

const NONE = "";

/** How the pattern was played, in figures, pictures and words; and beside another pass. */
export default function TimingReport() {
  const pads = useUsedLanes();
  const [first, setFirst] = useState(NONE);
  const [second, setSecond] = useState(NONE);
  const [straight, setStraight] = useState(false);
  const measured = useMeasured(straight);
  const { pattern, swing, samples, passes } = measured;
  const ofPass = (key: string) => samples.filter(({ passId }) => String(passId) === key);
  const nameOf = (key: string) => passes.find(({ id }) => String(id) === key)?.name;
  const other = nameOf(second);
  const compared = [
    { name: nameOf(first) ?? "all passes", samples: nameOf(first) ? ofPass(first) : samples },
    ...(other === undefined ? [] : [{ name: other, samples: ofPass(second) }]),
  ];
  const names = Object.fromEntries(passes.map(({ id, name }) => [String(id), name]));
  return (
    <section className={styles.view} aria-label="Timing report">
      <header className={styles.head}>
        <h2>Timing of {pattern.name}</h2>
        {swing && (
          <SettingSelect
            label="Measured by"
            value={straight ? "straight" : "swung"}
            options={{ swung: `the swing played, ${(swing.ratio * 100).toFixed(0)} %`, straight: "straight lines" }}
            onChange={(value) => setStraight(value === "straight")}
          />
        )}
        <SettingSelect label="Of" value={first} options={{ [NONE]: "all passes", ...names }} onChange={setFirst} />
        <SettingSelect label="Beside" value={second} options={{ [NONE]: "nothing", ...names }} onChange={setSecond} />
        <CsvButton measured={measured} />
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
      <ReportCharts compared={compared} />
    </section>
  );
}

function CsvButton({ measured: { samples, pattern } }: { readonly measured: Measured }) {
  const name = useOfBeat(({ name }) => name);
  const pads = useUsedLanes();
  return (
    <button
      type="button"
      className="btn"
      disabled={samples.length === 0}
      onClick={() => download(timingCsv(samples, pattern, pads), `${fileNameOf(name)} (timing).csv`, "text/csv")}
    >
      Export CSV
    </button>
  );
}
