"use client";

import { DEFAULT_STAND_IN, STAND_IN_NAME, type StandInSettings } from "@/inputs/stand-in/stand-in-settings";
import { STAND_IN_PARTS, type StandInPart } from "@/inputs/stand-in/stand-in-score";
import { NumberField } from "../common/fields/number-field";
import { SettingSelect } from "../common/fields/setting-select";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";

/** A simulated electronic kit for whoever has none: what it plays, and how well. */
export function StandInPanel() {
  const workspace = useWorkspace();
  const on = useWorkspaceState(({ settings }) => settings.standInOn);
  return (
    <section className={styles.panel} aria-labelledby="stand-in-title">
      <h2 id="stand-in-title">{STAND_IN_NAME}</h2>
      <p className={styles.says}>A simulated e-kit. It comes in as a MIDI device and plays when the loop runs.</p>
      <div className={styles.fields}>
        <button
          type="button"
          className="btn"
          aria-pressed={on}
          onClick={() => workspace.setSettings({ standInOn: !on })}
        >
          {on ? "Send home" : "Bring in"}
        </button>
        <WhatItPlays />
        <HowWell />
      </div>
    </section>
  );
}

function useStandIn() {
  const workspace = useWorkspace();
  const standIn = useWorkspaceState(({ settings }) => settings.standIn);
  const change = (next: Partial<StandInSettings>) => workspace.setSettings({ standIn: { ...standIn, ...next } });
  return [standIn, change] as const;
}

function WhatItPlays() {
  const [standIn, change] = useStandIn();
  return (
    <>
      <SettingSelect
        label="Plays"
        value={standIn.part}
        options={STAND_IN_PARTS}
        onChange={(part: StandInPart) => change({ part })}
      />
      <SettingSelect
        label="Tempo"
        value={standIn.follows ? "follows" : "own"}
        options={{ follows: "with the loop", own: "its own" }}
        onChange={(tempo) => change({ follows: tempo === "follows" })}
      />
      {!standIn.follows && <StandInNumber name="bpm" label="Its tempo" min={40} max={240} unit="BPM" />}
    </>
  );
}

function HowWell() {
  const [standIn, change] = useStandIn();
  return (
    <>
      <StandInNumber name="spreadMs" label="Spread" min={0} max={40} unit="ms" />
      <StandInNumber name="lateMs" label="Behind the beat" min={-60} max={60} unit="ms" />
      <NumberField
        label="Double triggers"
        unit="%"
        value={Math.round(standIn.doubles * 100)}
        min={0}
        max={100}
        step={5}
        standard={0}
        onChange={(percent) => change({ doubles: percent / 100 })}
      />
      <StandInNumber name="seed" label="Variation" min={1} max={999} />
      <label className={styles.check}>
        <input
          type="checkbox"
          checked={standIn.pedal}
          onChange={(event) => change({ pedal: event.currentTarget.checked })}
        />
        Opens the hats with the foot
      </label>
    </>
  );
}

interface StandInNumberProps {
  readonly name: "spreadMs" | "lateMs" | "seed" | "bpm";
  readonly label: string;
  readonly min: number;
  readonly max: number;
  readonly unit?: string;
}

function StandInNumber({ name, ...field }: StandInNumberProps) {
  const [standIn, change] = useStandIn();
  return (
    <NumberField
      {...field}
      value={standIn[name]}
      step={1}
      standard={DEFAULT_STAND_IN[name]}
      onChange={(value) => change({ [name]: value })}
    />
  );
}
