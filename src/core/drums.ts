/** Families share a shape and a hue on screen and never mean anything for the sound. */
export type DrumFamily = "kick" | "snare" | "tom" | "hat" | "cymbal" | "percussion";

/** What a pad is to a pedal, a hand on its edge, or whoever reads a rhythm. */
export type PadRole = "kick" | "snare" | "tom" | "hatClosed" | "hatOpen" | "hatPedal" | "cymbal" | "other";

export interface Drum {
  readonly name: string;
  readonly family: DrumFamily;
  readonly role: PadRole;
  /** General MIDI System Level 1 percussion key (from memory of RP-003, checked in tests/reference). */
  readonly note: number;
}

/** The sixteen sounds every kit has; the first eight lie on the lower row of keys, the rest on the upper. */
export const DRUMS = {
  kick: { name: "Kick", family: "kick", role: "kick", note: 36 },
  snare: { name: "Snare", family: "snare", role: "snare", note: 38 },
  sideStick: { name: "Side stick", family: "snare", role: "other", note: 37 },
  clap: { name: "Clap", family: "snare", role: "other", note: 39 },
  lowTom: { name: "Low tom", family: "tom", role: "tom", note: 45 },
  midTom: { name: "Mid tom", family: "tom", role: "tom", note: 47 },
  highTom: { name: "High tom", family: "tom", role: "tom", note: 50 },
  conga: { name: "Conga", family: "percussion", role: "other", note: 63 },
  closedHat: { name: "Closed hat", family: "hat", role: "hatClosed", note: 42 },
  openHat: { name: "Open hat", family: "hat", role: "hatOpen", note: 46 },
  pedalHat: { name: "Pedal hat", family: "hat", role: "hatPedal", note: 44 },
  ride: { name: "Ride", family: "cymbal", role: "cymbal", note: 51 },
  crash: { name: "Crash", family: "cymbal", role: "cymbal", note: 49 },
  tambourine: { name: "Tambourine", family: "percussion", role: "other", note: 54 },
  // General MIDI has no shaker among its first 47; maracas are the same thing played.
  shaker: { name: "Shaker", family: "percussion", role: "other", note: 70 },
  cowbell: { name: "Cowbell", family: "percussion", role: "other", note: 56 },
} as const satisfies Record<string, Drum>;

export type DrumId = keyof typeof DRUMS;
export const DRUM_IDS = Object.keys(DRUMS) as readonly DrumId[];
