"use client";

import { CLICK_DB_RANGE, COUNT_IN_BARS, DEFAULT_SETTINGS, type CountInBars, type Settings } from "@/store/settings";
import { NumberField } from "../common/number-field";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** Click on and off, when, how loud; and the count-in. */
export function ClickControl() {
  const workspace = useWorkspace();
  const settings = useWorkspaceState((state) => state.settings);
  return (
    <div className={styles.group}>
      <div className={styles.row}>
        <button
          type="button"
          className="btn"
          aria-pressed={settings.clickOn}
          onClick={() => workspace.setSettings({ clickOn: !settings.clickOn })}
        >
          Click
        </button>
        <select
          className={`form-select ${styles.select}`}
          aria-label="When the click sounds"
          value={settings.clickWhen}
          onChange={(event) => workspace.setSettings({ clickWhen: event.currentTarget.value as Settings["clickWhen"] })}
        >
          <option value="recording">in record</option>
          <option value="always">always</option>
        </select>
      </div>
      <div className={styles.row}>
        <NumberField
          label="Click level"
          unit="dB"
          inline
          value={settings.clickDb}
          step={1}
          standard={DEFAULT_SETTINGS.clickDb}
          {...CLICK_DB_RANGE}
          onChange={(clickDb) => workspace.setSettings({ clickDb })}
        />
        <select
          className={`form-select ${styles.select}`}
          aria-label="Count-in"
          value={settings.countInBars}
          onChange={(event) => workspace.setSettings({ countInBars: Number(event.currentTarget.value) as CountInBars })}
        >
          {COUNT_IN_BARS.map((bars) => (
            <option key={bars} value={bars}>
              {bars === 0 ? "no count-in" : bars === 1 ? "1 bar in" : `${bars} bars in`}
            </option>
          ))}
        </select>
      </div>
    </div>
  );
}
