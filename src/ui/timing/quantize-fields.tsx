"use client";

import { useDeferredValue, useMemo } from "react";
import { DEFAULT_QUANTIZE } from "@/core/beat/new-beat";
import { NumberField } from "../common/number-field";
import { SettingSelect } from "../common/setting-select";
import { useUsedLanes, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { GridSelect } from "./grid-select";
import { MixMenu } from "./mix-menu";
import styles from "./timing.module.scss";
import { scopeKey, scopeOf, scopeOptions, useScopedQuantize } from "./use-timing";

/** Which lines pull, how hard and how far: for the next hits, or for hits that are there. */
export function QuantizeFields({ onReport }: { onReport(): void }) {
  const workspace = useWorkspace();
  const pattern = useDeferredValue(useOpenPattern());
  const pads = useUsedLanes();
  const selected = useWorkspaceState((state) => state.selected.length);
  const scope = useWorkspaceState(({ timingScope }) => timingScope);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const settings = useScopedQuantize();
  const options = useMemo(() => scopeOptions(pattern, pads, selected), [pattern, pads, selected]);
  const key = scopeKey(scope);
  const next = scope.kind === "next";
  return (
    <>
      <div className={styles.titleRow}>
        <h2>Timing of</h2>
        <SettingSelect
          label="Timing of"
          hideLabel
          value={key in options ? key : "next"}
          options={options}
          onChange={(chosen) => workspace.timing.setScope(scopeOf(chosen))}
        />
        <button type="button" className="btn btn-sm" onClick={onReport}>
          Report
        </button>
      </div>
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
    </>
  );
}
