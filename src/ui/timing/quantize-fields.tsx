"use client";

import { DEFAULT_QUANTIZE } from "@/core/beat/new-beat";
import { NumberField } from "../common/fields/number-field";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { GridSelect } from "./grid-select";
import { MixMenu } from "./mix-menu";
import styles from "./timing.module.scss";
import { useScopedQuantize } from "./use-timing";

/** Which lines pull, how hard and how far: for the next hits, or for hits that are there. */
export default function QuantizeFields() {
  const workspace = useWorkspace();
  const next = useWorkspaceState(({ timingScope }) => timingScope.kind === "next");
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const settings = useScopedQuantize();
  return (
    <div className={styles.quantize}>
      <GridSelect
        label={next ? "Input grid" : "Grid"}
        settings={settings}
        disabled={readOnly}
        onChange={(grid) => workspace.timing.setQuantize({ grid })}
      />
      <MixMenu settings={settings} disabled={readOnly} onChange={(change) => workspace.timing.setQuantize(change)} />
      {(["strength", "reach"] as const).map((name) => (
        <NumberField
          key={name}
          label={name === "strength" ? "Strength" : "Reach"}
          unit="%"
          unitAbove
          value={Math.round(settings[name] * 100)}
          min={0}
          max={100}
          step={5}
          standard={DEFAULT_QUANTIZE[name] * 100}
          disabled={readOnly || settings.grid === "off"}
          onChange={(percent, gesture) => workspace.timing.setQuantize({ [name]: percent / 100 }, gesture)}
        />
      ))}
    </div>
  );
}
