"use client";

import Dropdown from "react-bootstrap/Dropdown";
import { Sliders } from "../icons/generated/sliders";
import {
  CLICK_DB_RANGE,
  CLICK_SUBDIVISIONS,
  COUNT_IN_BARS,
  DEFAULT_SETTINGS,
  STOP_AFTER_LAPS,
  type Settings,
} from "@/store/settings";
import { NumberField } from "../common/fields/number-field";
import { SettingSelect } from "../common/fields/setting-select";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

const COUNT_IN_WORDS = { 0: "no count-in", 1: "1 bar in", 2: "2 bars in", 4: "4 bars in" } as const;
const FIRST_HIT = "first hit";

/** Click on and off, and how recording begins; behind the button, all the rest of it. */
export function ClickControl() {
  const workspace = useWorkspace();
  const clickOn = useWorkspaceState(({ settings }) => settings.clickOn);
  return (
    <div className={styles.group}>
      <div className={styles.row}>
        <button
          type="button"
          className="btn"
          aria-pressed={clickOn}
          onClick={() => workspace.setSettings({ clickOn: !clickOn })}
        >
          Click
        </button>
        <Dropdown align="end" autoClose="outside">
          <Dropdown.Toggle as="button" type="button" className="btn" bsPrefix="click" aria-label="Click and start">
            <Sliders aria-hidden />
          </Dropdown.Toggle>
          <Dropdown.Menu className={styles.sheet}>
            <ClickFields />
          </Dropdown.Menu>
        </Dropdown>
      </div>
      <CountInChoice />
    </div>
  );
}

function ClickFields() {
  const workspace = useWorkspace();
  const settings = useWorkspaceState((state) => state.settings);
  const change = (next: Partial<Settings>) => workspace.setSettings(next);
  return (
    <>
      <SettingSelect
        label="Click sounds"
        value={settings.clickWhen}
        options={{ recording: "in record and practice", always: "always", "count-in": "in the count-in only" }}
        onChange={(clickWhen) => change({ clickWhen })}
      />
      <SettingSelect
        label="Accents"
        value={settings.clickAccent}
        options={{ groups: "bars and groups", bar: "bars", none: "none" }}
        onChange={(clickAccent) => change({ clickAccent })}
      />
      <SettingSelect
        label="Between the beats"
        value={settings.clickSubdivision}
        options={Object.fromEntries(CLICK_SUBDIVISIONS.map((name) => [name, name === "off" ? "nothing" : name]))}
        onChange={(clickSubdivision) => change({ clickSubdivision })}
      />
      <NumberField
        label="Click level"
        unit="dB"
        value={settings.clickDb}
        step={1}
        standard={DEFAULT_SETTINGS.clickDb}
        {...CLICK_DB_RANGE}
        onChange={(clickDb) => change({ clickDb })}
      />
      <SettingSelect
        label="Stop by itself"
        value={String(settings.stopAfterLaps)}
        options={Object.fromEntries(STOP_AFTER_LAPS.map((laps) => [String(laps), lapsInWords(laps)]))}
        onChange={(laps) => change({ stopAfterLaps: Number(laps) as Settings["stopAfterLaps"] })}
      />
    </>
  );
}

function lapsInWords(laps: number): string {
  return laps === 0 ? "never" : `after ${laps} ${laps === 1 ? "lap" : "laps"}`;
}

function CountInChoice() {
  const workspace = useWorkspace();
  const { startOnHit, countInBars } = useWorkspaceState((state) => state.settings);
  const choose = (value: string) =>
    workspace.setSettings(
      value === FIRST_HIT
        ? { startOnHit: true }
        : { startOnHit: false, countInBars: Number(value) as Settings["countInBars"] },
    );
  return (
    <select
      className={`form-select ${styles.select}`}
      aria-label="Count-in"
      value={startOnHit ? FIRST_HIT : countInBars}
      onChange={(event) => choose(event.currentTarget.value)}
    >
      {COUNT_IN_BARS.map((bars) => (
        <option key={bars} value={bars}>
          {COUNT_IN_WORDS[bars]}
        </option>
      ))}
      <option value={FIRST_HIT}>on the first hit</option>
    </select>
  );
}
