"use client";

import { GridSelect } from "./grid-select";
import { DEFAULT_QUANTIZE } from "@/core/beat/new-beat";
import { NumberField } from "../common/number-field";
import panel from "../common/panel.module.scss";
import { useBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";

/** What the next hits are pulled to. Recorded passes keep their own. */
export function TimingPanel() {
  const workspace = useWorkspace();
  const { inputQuantize } = useBeat();
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
    </section>
  );
}
