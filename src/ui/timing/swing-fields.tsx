"use client";

import type { Swing } from "@/core/beat/feel";
import { STRAIGHT, SWING_RANGE } from "@/core/timing/swing";
import { NumberField } from "../common/fields/number-field";
import { SettingSelect } from "../common/fields/setting-select";
import { useOfPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { KeepReturn } from "./keep-return";
import styles from "./timing.module.scss";

/** The swing of the pattern, and beside it what keeps timing and returns to it. */
export function SwingFields() {
  const { timing } = useWorkspace();
  const swing = useOfPattern(({ swing }) => swing) ?? STRAIGHT;
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const change = (next: Partial<Swing>, gesture?: string) =>
    timing.setFeel(({ swing = STRAIGHT }) => ({ swing: { ...swing, ...next } }), "Swing", gesture);
  return (
    <div className={styles.swingRow}>
      <SettingSelect
        label="Swing on"
        value={swing.unit}
        options={{ "1/8": "1/8", "1/16": "1/16" }}
        disabled={readOnly}
        onChange={(unit) => change({ unit })}
      />
      <NumberField
        label="Swing"
        unit="%"
        unitAbove
        value={Number((swing.ratio * 100).toFixed(1))}
        decimals={Number.isInteger(swing.ratio * 100) ? 0 : 1}
        min={SWING_RANGE.min * 100}
        max={SWING_RANGE.max * 100}
        step={1}
        standard={50}
        disabled={readOnly}
        onChange={(percent, gesture) => change({ ratio: percent / 100 }, gesture)}
      />
      <KeepReturn />
    </div>
  );
}
