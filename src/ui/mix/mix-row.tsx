"use client";

import type { Mix } from "@/core/beat/beat";
import { MAX_LEVEL_DB, MIN_LEVEL_DB } from "@/core/beat/edits/mix-edit";
import type { MeterReport } from "@/engine/protocol";
import { LevelBar } from "../common/meters/level-bar";
import { MuteSolo } from "../common/mute-solo";
import { NumberField } from "../common/fields/number-field";
import { Slider } from "../common/fields/slider";
import { DecayField, TuneField } from "../common/fields/sound-number";
import { HeldPeak } from "./held-peak";
import styles from "./mix.module.scss";

export interface MixRowProps {
  readonly name: string;
  readonly icon: React.ReactNode;
  readonly mix: Mix;
  readonly muted: boolean;
  readonly soloed: boolean;
  readonly disabled: boolean;
  /** Of the reported amplitudes the one that it shows, and the one that is held. */
  peakOf(meter: MeterReport): number;
  heldPeak(): number;
  onMix(change: Partial<Mix>, gesture: string): void;
  onMute(): void;
  onSolo(): void;
  /** Of a pad, how its sounds go. */
  readonly sound?: PadSoundFields;
}

interface PadSoundFields {
  readonly tuneSemitones: number | undefined;
  readonly decaySeconds: number | undefined;
  onTune(semitones: number, gesture: string): void;
  onDecay(seconds: number, gesture: string): void;
}

/** A pad or a part: how loud it is, and is to be, where it stands, and whether it is heard. */
export function MixRow(props: MixRowProps) {
  const { name, icon, mix, muted, soloed, disabled, peakOf, heldPeak, onMix, onMute, onSolo, sound } = props;
  const level = {
    value: mix.levelDb,
    min: MIN_LEVEL_DB,
    max: MAX_LEVEL_DB,
    standard: 0,
    disabled,
    onChange: (levelDb: number, gesture: string) => onMix({ levelDb }, gesture),
  };
  return (
    <li className={styles.row} aria-label={name}>
      <span className={styles.name} title={name}>
        {icon}
        {name}
      </span>
      <MuteSolo {...{ name, muted, soloed, disabled, onMute, onSolo }} />
      <NumberField {...level} label={`Level of ${name}, typed`} unit="dB" decimals={1} step={1} inline />
      <span className={styles.fader}>
        <Slider {...level} label={`Level of ${name}`} step={0.5} text={`${mix.levelDb.toFixed(1)} dB`} />
        <LevelBar peakOf={peakOf} className={styles.meter} />
      </span>
      <HeldPeak name={name} peakOf={heldPeak} />
      <Slider
        className={styles.pan}
        label={`Pan of ${name}`}
        value={Math.round(mix.pan * 100)}
        min={-100}
        max={100}
        step={5}
        standard={0}
        text={panText(mix.pan)}
        disabled={disabled}
        onChange={(percent, gesture) => onMix({ pan: percent / 100 }, gesture)}
      />
      <Slider
        className={styles.room}
        label={`Room of ${name}`}
        value={mix.roomDb}
        min={MIN_LEVEL_DB}
        max={0}
        step={1}
        standard={MIN_LEVEL_DB}
        text={mix.roomDb <= MIN_LEVEL_DB ? "none" : `${mix.roomDb.toFixed(0)} dB`}
        disabled={disabled}
        onChange={(roomDb, gesture) => onMix({ roomDb }, gesture)}
      />
      {sound && <SoundFields name={name} {...sound} disabled={disabled} />}
    </li>
  );
}

function SoundFields(props: PadSoundFields & { readonly name: string; readonly disabled: boolean }) {
  const { name, disabled, tuneSemitones = 0, decaySeconds = 0, onTune, onDecay } = props;
  return (
    <>
      <TuneField label={`Tune of ${name}`} value={tuneSemitones} inline disabled={disabled} onChange={onTune} />
      <DecayField label={`Decay of ${name}`} value={decaySeconds} inline disabled={disabled} onChange={onDecay} />
    </>
  );
}

/** @example panText(-0.3) // "30 L" */
function panText(pan: number): string {
  const percent = Math.round(Math.abs(pan) * 100);
  return percent === 0 ? "middle" : `${percent} ${pan < 0 ? "L" : "R"}`;
}
