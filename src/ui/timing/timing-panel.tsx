"use client";

import { DEFAULT_QUANTIZE } from "@/core/beat/new-beat";
import { STRAIGHT, SWING_RANGE } from "@/core/timing/swing";
import { NumberField } from "../common/number-field";
import panel from "../common/panel.module.scss";
import { SettingSelect } from "../common/setting-select";
import { useBeat, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { GridSelect } from "./grid-select";

/** What the next hits are pulled to, and the swing of the pattern they go into. Recorded passes keep their own grid. */
export function TimingPanel() {
  const workspace = useWorkspace();
  const { inputQuantize } = useBeat();
  const swing = useOpenPattern().swing ?? STRAIGHT;
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <section className={panel.panel} aria-labelledby="timing-title">
      <h2 id="timing-title" className={panel.title}>
        Timing of the next hits
      </h2>
      <div className={panel.fields}>
        <GridSelect
          label="Input grid"
          value={inputQuantize.grid}
          disabled={readOnly}
          onChange={(grid) => workspace.setInputQuantize({ grid })}
        />
        {(["strength", "reach"] as const).map((key) => (
          <NumberField
            key={key}
            label={key === "strength" ? "Strength" : "Reach"}
            unit="%"
            value={Math.round(inputQuantize[key] * 100)}
            min={0}
            max={100}
            step={5}
            standard={DEFAULT_QUANTIZE[key] * 100}
            disabled={readOnly || inputQuantize.grid === "off"}
            onChange={(percent, gesture) => workspace.setInputQuantize({ [key]: percent / 100 }, gesture)}
          />
        ))}
      </div>
      <div className={panel.fields}>
        <SettingSelect
          label="Swing of the pattern"
          value={swing.unit}
          options={{ "1/8": "on eighths", "1/16": "on sixteenths" }}
          disabled={readOnly}
          onChange={(unit) => workspace.setFeel({ swing: { ...swing, unit } }, "Swing")}
        />
        <NumberField
          label="Swing"
          unit="%"
          value={Number((swing.ratio * 100).toFixed(1))}
          decimals={Number.isInteger(swing.ratio * 100) ? 0 : 1}
          min={SWING_RANGE.min * 100}
          max={SWING_RANGE.max * 100}
          step={1}
          standard={50}
          disabled={readOnly}
          onChange={(percent, gesture) =>
            workspace.setFeel({ swing: { ...swing, ratio: percent / 100 } }, "Swing", gesture)
          }
        />
      </div>
    </section>
  );
}
