/** The kits and the tonal voices that a part may have, and what is known of them without making a sound. */
export interface KitInfo {
  readonly name: string;
  readonly description: string;
}

export const KITS = {
  deckhouse: { name: "Deckhouse", description: "a small wooden kit" },
  signalLamp: { name: "Signal Lamp", description: "electronic" },
  ropeAndCrate: { name: "Rope and Crate", description: "found percussion" },
} as const satisfies Record<string, KitInfo>;

export type KitId = keyof typeof KITS;
export const KIT_IDS = Object.keys(KITS) as readonly KitId[];

export interface VoiceInfo {
  readonly name: string;
  readonly description: string;
  /** General MIDI Level 1 program, 0..127, as which it is written (from memory). */
  readonly program: number;
  /** The MIDI note on the first key. */
  readonly base: number;
}

export const VOICES = {
  keel: { name: "Keel", description: "round bass", program: 33, base: 36 },
  winch: { name: "Winch", description: "bass with bite", program: 38, base: 36 },
  cabin: { name: "Cabin", description: "electric keys", program: 4, base: 60 },
  buoy: { name: "Buoy", description: "mallet", program: 12, base: 60 },
  rigging: { name: "Rigging", description: "pluck", program: 25, base: 60 },
  fog: { name: "Fog", description: "soft pad", program: 89, base: 60 },
} as const satisfies Record<string, VoiceInfo>;

export type VoiceId = keyof typeof VOICES;
export const VOICE_IDS = Object.keys(VOICES) as readonly VoiceId[];
