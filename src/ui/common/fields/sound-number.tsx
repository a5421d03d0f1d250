"use client";

import { NumberField, type NumberFieldProps } from "./number-field";

type SoundNumberProps = Pick<NumberFieldProps, "label" | "value" | "disabled" | "inline" | "onChange">;

/** By how many semitones a sound is higher. */
export function TuneField(props: SoundNumberProps) {
  return <NumberField unit="st" min={-24} max={24} step={1} decimals={props.inline ? 1 : 2} standard={0} {...props} />;
}

/** In how many seconds a sound falls by 60 dB; 0 is all of it, as it falls by itself. */
export function DecayField(props: SoundNumberProps) {
  return <NumberField unit="s" zero="full" min={0} max={10} step={0.05} decimals={2} standard={0} {...props} />;
}
