"use client";

import { DEFAULT_KEY_LEVELS, type KeyLevels } from "@/inputs/computer-keys";
import { KEYS_DEVICE } from "@/inputs/played-hit";
import { NumberField } from "../common/fields/number-field";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";

const LABELS: Readonly<Record<keyof KeyLevels, string>> = {
  level: "A key alone",
  accent: "With Shift",
  soft: "With Alt",
};

/** Keys feel no force: which velocity each way of pressing them plays. */
export function KeyLevelsPanel() {
  const workspace = useWorkspace();
  const levels = useWorkspaceState(({ settings }) => settings.keyLevels);
  return (
    <section className={styles.panel} aria-labelledby="keys-title">
      <h2 id="keys-title">{KEYS_DEVICE}</h2>
      <p className={styles.says}>The letters on the pads. Keys feel no force, so each way of pressing has a level.</p>
      <div className={styles.fields}>
        {(Object.keys(LABELS) as (keyof KeyLevels)[]).map((key) => (
          <NumberField
            key={key}
            label={LABELS[key]}
            value={levels[key]}
            min={1}
            max={127}
            step={1}
            standard={DEFAULT_KEY_LEVELS[key]}
            onChange={(velocity) => workspace.setSettings({ keyLevels: { ...levels, [key]: Math.round(velocity) } })}
          />
        ))}
      </div>
    </section>
  );
}
