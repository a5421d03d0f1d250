"use client";

import { DEFAULT_STAND_IN, STAND_IN_NAME, type StandInSettings } from "@/inputs/stand-in/stand-in-drummer";
import { STAND_IN_PARTS, type StandInPart } from "@/inputs/stand-in/stand-in-score";
import { NumberField } from "../common/number-field";
import { SettingSelect } from "../common/setting-select";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";

/** A simulated electronic kit for whoever has none: what it plays, and how well. */
export function StandInPanel() {
  const workspace = useWorkspace();
  const on = useWorkspaceState(({ settings }) => settings.standInOn);
  const standIn = useWorkspaceState(({ settings }) => settings.standIn);
  const change = (next: Partial<StandInSettings>) => workspace.setSettings({ standIn: { ...standIn, ...next } });
  const number = (key: "spreadMs" | "lateMs" | "seed", label: string, min: number, max: number, unit?: string) => (
    <NumberField
      label={label}
      {...(unit && { unit })}
      value={standIn[key]}
      min={min}
      max={max}
      step={1}
      standard={DEFAULT_STAND_IN[key]}
      onChange={(value) => change({ [key]: value })}
    />
  );
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
        {!standIn.follows && (
          <NumberField
            label="Its tempo"
            unit="BPM"
            value={standIn.bpm}
            min={40}
            max={240}
            step={1}
            standard={DEFAULT_STAND_IN.bpm}
            onChange={(bpm) => change({ bpm })}
          />
        )}
        {number("spreadMs", "Spread", 0, 40, "ms")}
        {number("lateMs", "Behind the beat", -60, 60, "ms")}
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
        {number("seed", "Mood", 1, 999)}
        <label className={styles.check}>
          <input
            type="checkbox"
            checked={standIn.pedal}
            onChange={(event) => change({ pedal: event.currentTarget.checked })}
          />
          Opens the hats with the foot
        </label>
      </div>
    </section>
  );
}
