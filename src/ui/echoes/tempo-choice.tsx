"use client";

import { hitCount } from "@/core/beat/beat";
import type { FreeRecall } from "@/core/recover/bring-back-free";
import { SettingSelect } from "../common/fields/setting-select";
import { useBeat } from "../workspace/use-workspace";

export interface TempoChoiceProps {
  /** Of the echo. */
  readonly bpm: number;
  /** Undefined: as suits the beat. */
  readonly tempo: FreeRecall["tempo"] | undefined;
  onChange(tempo: FreeRecall["tempo"]): void;
}

/** Whether the beat takes the tempo of an echo, or the echo that of the beat. */
export function TempoChoice({ bpm, tempo, onChange }: TempoChoiceProps) {
  const beat = useBeat();
  return (
    <SettingSelect
      label="Tempo"
      hideLabel
      value={tempo ?? (hitCount(beat) === 0 ? "use" : "fit")}
      options={{ use: `Use its tempo, ${bpm.toFixed(1)} BPM`, fit: `Fit to this tempo, ${beat.bpm} BPM` }}
      onChange={onChange}
    />
  );
}
