"use client";

import { useEffect, useState } from "react";
import type { SampleSource } from "@/core/beat/beat";
import type { OwnSample } from "@/core/sound/kits/own-sample";
import { gainToMatch } from "@/core/sound/loudness/sample-level";
import type { SoundDesk } from "@/store/sounds/sound-desk";
import { NumberField } from "../common/fields/number-field";
import styles from "./sounds.module.scss";
import { WavePicture } from "./wave-picture";

interface SampleEditorProps {
  readonly desk: SoundDesk;
  readonly source: SampleSource;
  /** As loud the drum is that has this place in a kit. */
  targetLufs(): number;
  onSource(source: SampleSource, gesture?: string): void;
  /** The kit's drum again. */
  onDrum(): void;
}

/** A sound of the player's own: its wave, what of it is heard, and how loud. */
export function SampleEditor(props: SampleEditorProps) {
  const { desk, source, onSource, onDrum } = props;
  const sample = useSample(desk, source.sampleId);
  return (
    <div className={styles.sample}>
      <p className={styles.sampleName}>
        <b title={source.name}>{source.name}</b>
        <button type="button" className="btn btn-sm" onClick={onDrum}>
          The kit’s drum again
        </button>
      </p>
      {sample === "missing" && (
        <p role="alert">This sample is not in this browser: the layer is silent. Bring the file in again.</p>
      )}
      {sample && sample !== "missing" && (
        <>
          <WavePicture sample={sample} source={source} onSource={onSource} />
          <SampleFields {...props} sample={sample} />
        </>
      )}
    </div>
  );
}

function SampleFields({ source, sample, targetLufs, onSource }: SampleEditorProps & { readonly sample: OwnSample }) {
  const { sampleRate, channels } = sample;
  const { startFrame, endFrame, fadeMs, reversed, gainDb } = source;
  const match = () => {
    const heard = channels.map((channel) => channel.subarray(startFrame, endFrame));
    onSource({ ...source, gainDb: gainToMatch(heard, sampleRate, targetLufs()) });
  };
  const turn = () => {
    const { reversed: _, ...rest } = source;
    onSource(reversed ? rest : { ...rest, reversed: true });
  };
  return (
    <div className={styles.fields}>
      <NumberField
        label="Fade at its end"
        unit="ms"
        value={fadeMs}
        min={0}
        max={10_000}
        step={5}
        standard={10}
        onChange={(next, gesture) => onSource({ ...source, fadeMs: next }, gesture)}
      />
      <NumberField
        label="Gain"
        unit="dB"
        value={gainDb}
        min={-60}
        max={40}
        step={1}
        decimals={1}
        standard={0}
        onChange={(next, gesture) => onSource({ ...source, gainDb: next }, gesture)}
      />
      <div className={styles.tools}>
        <button type="button" className="btn btn-sm" onClick={match} title="As loud as the kit’s drum in this place">
          As loud as a drum
        </button>
        <button type="button" className="btn btn-sm" onClick={() => onSource({ ...source, gainDb: 0 })}>
          As recorded
        </button>
        <button type="button" className="btn btn-sm" aria-pressed={reversed === true} onClick={turn}>
          Backwards
        </button>
      </div>
    </div>
  );
}

function useSample(desk: SoundDesk, id: string): OwnSample | "missing" | undefined {
  const [read, setRead] = useState<{ readonly id: string; readonly sample: OwnSample | "missing" }>();
  useEffect(() => {
    let wanted = true;
    void desk.sample(id).then((sample) => wanted && setRead({ id, sample: sample ?? "missing" }));
    return () => void (wanted = false);
  }, [desk, id]);
  return read?.id === id ? read.sample : undefined;
}
