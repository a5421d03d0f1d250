"use client";

import { useMemo, useState, type ReactNode } from "react";
import { FOLDS, type Fold } from "@/core/recover/bring-back";
import type { Echo } from "@/core/recover/echo";
import type { Reading } from "@/core/recover/readings";
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
  const [fold, setFold] = useState<Fold>("merged");
  const options = Object.fromEntries(FOLDS.map((name) => [name, FOLD_WORDS[name]]));
  return (
    <Ways onTake={() => workspace.echoes.bringBack(echo, fold)}>
      <SettingSelect label="Laps" value={fold} options={options} onChange={(value: Fold) => setFold(value)} />
    </Ways>
  );
}

function FreeWays({ echo }: { readonly echo: Echo }) {
  const workspace = useWorkspace();
  const readings = useMemo(() => workspace.echoes.readingsOf(echo), [workspace, echo]);
  const [chosen, setChosen] = useState("0");
  const reading = readings[Number(chosen)];
  if (!reading) return <p className={styles.says}>Too short to find a tempo.</p>;
  const inWords = ({ bpm, bars, confidence }: Reading) =>
    `${bpm.toFixed(1)} BPM, ${bars} ${bars === 1 ? "bar" : "bars"} (${Math.round(confidence * 100)} %)`;
  const options = Object.fromEntries(readings.map((one, index) => [String(index), inWords(one)]));
  return (
    <Ways onTake={() => workspace.echoes.bringBackAs(echo, reading)}>
      <SettingSelect label="Reading" value={chosen} options={options} onChange={(value) => setChosen(value)} />
    </Ways>
  );
}

function Ways({ children, onTake }: { readonly children: ReactNode; onTake(): void }) {
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <div className={styles.ways}>
      {children}
      <button type="button" className="btn btn-sm" disabled={readOnly} onClick={onTake}>
        Bring back
      </button>
    </div>
  );
}
