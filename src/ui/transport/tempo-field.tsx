"use client";

import { DEFAULT_BPM } from "@/core/beat/new-beat";
import { TEMPO_RANGE } from "@/core/time/tempo";
import { NumberField } from "../common/number-field";
import { useBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";

export function TempoField() {
  const workspace = useWorkspace();
  const { bpm } = useBeat();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <NumberField
      label="Tempo"
      unit="BPM"
      unitAbove
      large
      value={bpm}
      step={1}
      decimals={Number.isInteger(bpm) ? 0 : 2}
      standard={DEFAULT_BPM}
      disabled={readOnly}
      {...TEMPO_RANGE}
      onChange={(value, gesture) => workspace.setTempo(value, gesture)}
    />
  );
}
