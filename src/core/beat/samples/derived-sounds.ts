import { remember } from "../../remember";
import { SAMPLE_RATE, type Beat, type Pad, type PadLayer } from "../beat";
import { padsOf } from "../lanes";

/** Average length of all layers and variants of a drum together: a kit of sixteen is some forty megabytes at 48 kHz. */
const DRUM_SECONDS = 13;

const ofPads = remember<readonly Pad[], ReadonlyMap<string, number>>();

/**
 * Length of the sounds that have to be made for a beat's pads, each counted once: tuned ones, and cuts of samples.
 * @returns seconds of one side
 * @example of a stereo sample of which one second is struck, tuned down by an octave: 4
 */
export function derivedSeconds({ parts }: Beat): number {
  const all = new Map<string, number>();
  for (const part of parts) {
    const pads = padsOf(part);
    const kitId = part.kind === "kit" ? part.kitId : "";
    for (const [name, seconds] of ofPads(pads, [kitId], () => secondsOf(pads, kitId))) all.set(name, seconds);
  }
  return [...all.values()].reduce((sum, seconds) => sum + seconds, 0);
}

function secondsOf(pads: readonly Pad[], kitId: string): ReadonlyMap<string, number> {
  const found = new Map<string, number>();
  for (const pad of pads)
    for (const layer of pad.layers) {
      const tune = (pad.tuneSemitones ?? 0) + (layer.tuneSemitones ?? 0);
      const seconds = layerSeconds(layer, tune) * 2 ** (-tune / 12);
      if (seconds > 0) found.set(JSON.stringify([kitId, tune, layer.source]), seconds);
    }
  return found;
}

function layerSeconds({ source }: PadLayer, tune: number): number {
  if (source.kind === "drum") return tune === 0 ? 0 : DRUM_SECONDS;
  return (source.channels * (source.endFrame - source.startFrame)) / SAMPLE_RATE;
}
