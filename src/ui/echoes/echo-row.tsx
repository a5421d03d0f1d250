"use client";

import { useMemo, useState } from "react";
import { FOLDS, type Fold } from "@/core/recover/bring-back";
import type { Echo } from "@/core/recover/echo";
import { SettingSelect } from "../common/setting-select";
import { useBeat, useOpenPart, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { EchoPicture } from "./echo-picture";
import styles from "./echoes.module.scss";

const FOLD_WORDS: Readonly<Record<Fold, string>> = {
  merged: "all laps merged",
  last: "the last lap",
  takes: "every lap as a take",
  unrolled: "one after the other",
};

export interface EchoRowProps {
  readonly echo: Echo;
  readonly open: boolean;
  onOpen(): void;
}

/** One echo: its picture, when, how long, with what; opened, the ways to bring it back. */
export function EchoRow({ echo, open, onOpen }: EchoRowProps) {
  const workspace = useWorkspace();
  const { id: beatId } = useBeat();
  const part = useOpenPart();
  const used = useWorkspaceState(({ usedEchoes }) => usedEchoes.includes(echo.id));
  const recorded = workspace.echoes.isRecorded(echo);
  const { along } = echo.hits[0];
  const pattern = part.patterns.find(({ id }) => along?.beatId === beatId && id === along.patternId);
  const laps = new Set(echo.hits.map((hit) => hit.along?.lap)).size;
  const seconds = ((echo.endMs - echo.id) / 1000).toFixed(0);
  const when = new Date(echo.id).toLocaleTimeString();
  const withWhat = pattern ? `with ${pattern.name}, ${laps} ${laps === 1 ? "lap" : "laps"}` : "free";
  const state = recorded ? "recorded" : used ? "brought back" : "";
  return (
    <li className={styles.echo}>
      <button type="button" className={styles.summary} aria-expanded={open} onClick={onOpen}>
        <EchoPicture echo={echo} className={styles.picture} />
        <span className={styles.line}>
          <span className="numerals">{when}</span> {seconds} s, {echo.hits.length}{" "}
          {echo.hits.length === 1 ? "hit" : "hits"}, {withWhat}
          {state && <em> ({state})</em>}
        </span>
      </button>
      {open && (pattern && !recorded ? <AlongWays echo={echo} /> : <FreeWays echo={echo} />)}
    </li>
  );
}

function AlongWays({ echo }: { readonly echo: Echo }) {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const [fold, setFold] = useState<Fold>("merged");
  return (
    <div className={styles.ways}>
      <SettingSelect
        label="Laps"
        value={fold}
        options={Object.fromEntries(FOLDS.map((name) => [name, FOLD_WORDS[name]]))}
        onChange={(value: Fold) => setFold(value)}
      />
      <button
        type="button"
        className="btn btn-sm"
        disabled={readOnly}
        onClick={() => workspace.echoes.bringBack(echo, fold)}
      >
        Bring back
      </button>
    </div>
  );
}

function FreeWays({ echo }: { readonly echo: Echo }) {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const readings = useMemo(() => workspace.echoes.readingsOf(echo), [workspace, echo]);
  const [chosen, setChosen] = useState("0");
  const reading = readings[Number(chosen)];
  if (!reading) return <p className={styles.says}>Too short to find a tempo.</p>;
  return (
    <div className={styles.ways}>
      <SettingSelect
        label="Reading"
        value={chosen}
        options={Object.fromEntries(
          readings.map(({ bpm, bars, confidence }, index) => [
            String(index),
            `${bpm.toFixed(1)} BPM, ${bars} ${bars === 1 ? "bar" : "bars"} (${Math.round(confidence * 100)} %)`,
          ]),
        )}
        onChange={(value) => setChosen(value)}
      />
      <button
        type="button"
        className="btn btn-sm"
        disabled={readOnly}
        onClick={() => workspace.echoes.bringBackAs(echo, reading)}
      >
        Bring back
      </button>
    </div>
  );
}
