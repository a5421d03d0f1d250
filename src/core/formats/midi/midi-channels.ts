import type { Mix, Part } from "../../beat/beat";
import { VOICES, type VoiceId } from "../../instruments";
import { PAN, VOLUME, type ChannelState } from "./smf-read";
import type { ChannelSetup } from "./smf-write";

/** General MIDI puts percussion on channel 10, which is 9 on the wire. */
export const DRUM_CHANNEL = 9;
const CHANNELS = 16;

/** General MIDI: a channel begins at this volume, so it is 0 dB here; pan is in the middle at 64 (from memory). */
const PLAIN_VOLUME = 100;
const MIDDLE = 64;

/**
 * The channel that each part is written to, from 0: kits to the tenth, tonal parts to the one they have or the next free
 * one. Where there are more than fifteen, the last ones share.
 * @example channelsOf(beat.parts) // [9]
 */
export function channelsOf(parts: readonly Part[]): readonly number[] {
  const tonal = parts.flatMap((part) => (part.kind === "tonal" ? [part] : []));
  const asked = new Set(tonal.flatMap(({ channel }) => (channel === undefined ? [] : [channel - 1])));
  const free = Array.from({ length: CHANNELS }, (_, channel) => channel).filter(
    (channel) => channel !== DRUM_CHANNEL && !asked.has(channel),
  );
  let next = 0;
  return parts.map((part) => {
    if (part.kind === "kit") return DRUM_CHANNEL;
    if (part.channel !== undefined) return part.channel - 1;
    return free[next++] ?? CHANNELS - 1;
  });
}

/**
 * Program, level and place of a part's channel.
 * @param shared another part is on the same channel: what both would set is left alone
 */
export function channelSetup(part: Part, channel: number, shared: boolean): ChannelSetup {
  const { levelDb, pan } = part.mix;
  const controllers = shared ? {} : { [VOLUME]: volumeOf(levelDb), [PAN]: panOf(pan) };
  if (part.kind === "tonal") return { channel, controllers, program: programOf(part) };
  // A kit at its own level is as every receiver begins.
  return { channel, controllers: levelDb === 0 && pan === 0 ? {} : controllers };
}

/** @example volumeOf(0) // 100 */
export function volumeOf(levelDb: number): number {
  return Math.round(Math.max(0, Math.min(127, PLAIN_VOLUME * Math.pow(10, levelDb / 40))));
}

/** The level of a volume: 40 log10 of it (common practice of General MIDI), from -60 dB on. @example levelOf(50) // about -12 */
export function levelOf(volume: number): number {
  return volume === 0 ? -60 : Math.max(-60, Number((40 * Math.log10(volume / PLAIN_VOLUME)).toFixed(1)));
}

/** @example panOf(1) // 127 */
export function panOf(pan: number): number {
  return Math.round(Math.max(0, Math.min(127, MIDDLE + pan * (pan < 0 ? MIDDLE : 127 - MIDDLE))));
}

/** @example placeOfPan(127) // 1 */
export function placeOfPan(value: number): number {
  return Number(((value - MIDDLE) / (value < MIDDLE ? MIDDLE : 127 - MIDDLE)).toFixed(2));
}

/** What a channel says of level and place. */
export function mixOf(plain: Mix, { volume, pan }: ChannelState): Mix {
  return {
    ...plain,
    ...(volume !== undefined && { levelDb: levelOf(volume) }),
    ...(pan !== undefined && { pan: placeOfPan(pan) }),
  };
}

function programOf({ program, voiceId }: Extract<Part, { kind: "tonal" }>): number {
  return program ?? VOICES[voiceId].program;
}

/**
 * General MIDI Level 1 has its programs in families of eight (from memory): pianos, tuned percussion, organs, guitars,
 * basses, strings, ensembles, brass, reeds, pipes, leads, pads, effects, of the world, percussive, noises.
 */
const VOICE_OF_FAMILY: readonly VoiceId[] = [
  "cabin",
  "buoy",
  "fog",
  "rigging",
  "keel",
  "fog",
  "fog",
  "winch",
  "fog",
  "fog",
  "winch",
  "fog",
  "fog",
  "rigging",
  "buoy",
  "fog",
];
/** From here on basses are plucked hard or made by machines. */
const FIRST_HARD_BASS = 36;

/**
 * The voice that is nearest to a General MIDI program.
 * @param program 0..127
 * @example voiceFor(38) // "winch"
 */
export function voiceFor(program: number): VoiceId {
  const family = Math.floor(program / 8);
  const voice = VOICE_OF_FAMILY[family]!;
  return voice === "keel" && program >= FIRST_HARD_BASS ? "winch" : voice;
}
