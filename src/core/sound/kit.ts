import { DRUM_IDS, type DrumId } from "../drums";
import { seededRandom, textSeed } from "../random";
import { DECKHOUSE } from "./deckhouse";
import { finish, fromDb, panGains, single, type Samples } from "./dsp";

/** Velocities at which every drum is voiced; between them a layer is turned down. */
export const LAYER_VELOCITIES = [34, 68, 100, 127] as const;
/** Different strokes of equal force, taken in turn. */
export const VARIANTS = 3;
/** Goes into the key under which a rendered kit is stored: raise it when a voice changes. */
export const KIT_REVISION = 1;

export interface DrumSamples {
  /** [layer][variant] */
  readonly layers: readonly (readonly Samples[])[];
  readonly gainLeft: number;
  readonly gainRight: number;
  readonly chokeGroup: number;
}

/** A kit as sound: the drums in the order of DRUM_IDS. */
export interface Kit {
  readonly sampleRate: number;
  readonly drums: readonly DrumSamples[];
}

/** Amplitude of a stroke against the hardest: velocity 64 is about 9 dB down (common practice, no source). */
export function velocityGain(velocity: number): number {
  return single(Math.pow(velocity / 127, 1.5));
}

/** Renders "Deckhouse". The same sample rate gives the same samples on every machine. */
export function renderKit(sampleRate: number): Kit {
  return { sampleRate, drums: DRUM_IDS.map((drum) => renderDrum(drum, sampleRate)) };
}

/** One drum of it. */
export function renderDrum(drum: DrumId, sampleRate: number): DrumSamples {
  const { voice, peakDb, pan, chokeGroup } = DECKHOUSE[drum];
  const layers = LAYER_VELOCITIES.map((velocity, layer) =>
    Array.from({ length: VARIANTS }, (_, variant) => {
      const random = seededRandom(textSeed(`${drum} ${layer} ${variant}`));
      const stroke = voice({ sampleRate, force: velocity / 127, random });
      return finish(stroke, fromDb(peakDb) * velocityGain(velocity), sampleRate);
    }),
  );
  const [gainLeft, gainRight] = panGains(pan);
  return { layers, gainLeft, gainRight, chokeGroup };
}

/** The layer for a velocity: the softest that was voiced at least as hard. */
export function layerFor(velocity: number): number {
  const layer = LAYER_VELOCITIES.findIndex((top) => velocity <= top);
  return layer < 0 ? LAYER_VELOCITIES.length - 1 : layer;
}

/** Gain for every velocity 0..127 within its layer, looked up where the sound is made. */
export const LAYER_GAINS: Float32Array = Float32Array.from(
  { length: 128 },
  (_, velocity) => velocityGain(velocity) / velocityGain(LAYER_VELOCITIES[layerFor(velocity)]!),
);

export function longestSeconds(kit: Kit): number {
  const frames = kit.drums.flatMap(({ layers }) => layers.flat().map(({ length }) => length));
  return Math.max(0, ...frames) / kit.sampleRate;
}
