"use client";

import { DEFAULT_BPM } from "@/core/beat/new-beat";
import { TEMPO_RANGE } from "@/core/time/tempo";
import { NumberField } from "../common/fields/number-field";
import { useOfBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** The tempo, typed, nudged or tapped. */
export function TempoField() {
  const workspace = useWorkspace();
  const own = useOfBeat(({ bpm }) => bpm);
  const tried = useWorkspaceState(({ tapped, transport }) => (transport.running ? tapped?.bpm : undefined));
  const bpm = tried === undefined ? own : Number(tried.toFixed(1));
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <div className={styles.group}>
      <NumberField
        label="Tempo"
        unit="BPM"
        unitAbove
        large
        value={bpm}
        step={1}
        decimals={Number.isInteger(bpm) ? 0 : 1}
        standard={DEFAULT_BPM}
        disabled={readOnly}
        {...TEMPO_RANGE}
        onChange={(value, gesture) => workspace.setTempo(value, gesture)}
      />
      <button
        type="button"
        className={`btn btn-sm ${styles.tap}`}
        disabled={readOnly}
        onPointerDown={(event) => workspace.tempoTap.tap(event.timeStamp)}
        onClick={(event) => event.detail === 0 && workspace.tempoTap.tap(event.timeStamp)}
      >
        Tap
      </button>
    </div>
  );
}
