"use client";

import type { TonalPart } from "@/core/beat/beat";
import { CHORD_SIZES, printed, ROOT_NAMES, SCALE_NAMES, type ScaleName } from "@/core/beat/scale";
import { VOICE_IDS, VOICES, type VoiceId } from "@/core/instruments";
import { NumberField } from "../common/fields/number-field";
import { SettingSelect } from "../common/fields/setting-select";
import { useWorkspace } from "../workspace/use-workspace";
import styles from "./part-strip.module.scss";

const VOICE_NAMES = Object.fromEntries(
  VOICE_IDS.map((id) => [id, `${VOICES[id].name}, ${VOICES[id].description}`]),
) as Record<VoiceId, string>;
const ALL_NOTES = "all notes";
const SCALES: Record<string, string> = {
  [ALL_NOTES]: ALL_NOTES,
  ...Object.fromEntries(SCALE_NAMES.map((name) => [name, name])),
};
const ROOTS = Object.fromEntries(ROOT_NAMES.map((name, root) => [String(root), printed(name)]));
const CHORDS: Record<string, string> = { notes: "notes", triads: "triads", sevenths: "sevenths" };

/** What a tonal part sounds as, and what its keys play. */
export function VoiceFields({ part: { id, voiceId, transpose, scale } }: { readonly part: TonalPart }) {
  const { parts } = useWorkspace();
  const setChords = (choice: string) =>
    parts.setScale(id, { chords: choice in CHORD_SIZES ? (choice as "triads") : undefined });
  return (
    <>
      <SettingSelect
        label="Voice"
        value={voiceId}
        options={VOICE_NAMES}
        onChange={(next) => parts.setTonal(id, { voiceId: next as VoiceId })}
      />
      <NumberField
        label="Transpose"
        unit="st"
        value={transpose}
        min={-48}
        max={48}
        step={1}
        standard={0}
        onChange={(semitones, gesture) => parts.setTonal(id, { transpose: semitones }, gesture)}
      />
      <div className={styles.scale}>
        <SettingSelect
          label="Keys play"
          value={scale?.name ?? ALL_NOTES}
          options={SCALES}
          onChange={(name) =>
            name === ALL_NOTES
              ? parts.setTonal(id, { scale: undefined })
              : parts.setScale(id, { name: name as ScaleName })
          }
        />
        {scale && (
          <>
            <SettingSelect
              label="From"
              value={String(scale.root)}
              options={ROOTS}
              onChange={(root) => parts.setScale(id, { root: Number(root) })}
            />
            <SettingSelect label="As" value={scale.chords ?? "notes"} options={CHORDS} onChange={setChords} />
          </>
        )}
      </div>
    </>
  );
}
