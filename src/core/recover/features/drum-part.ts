/** What a drum does in a kit; of several that do the same each speaks alike. */
export const DRUM_PARTS = [
  "kick",
  "snare",
  "stick",
  "hat",
  "ride",
  "openHat",
  "crash",
  "lowTom",
  "highTom",
  "hand",
] as const;

export type DrumPart = (typeof DRUM_PARTS)[number];

/** A part of the kit, or a note of another instrument. */
export type PlayedPart = DrumPart | "tone";

/** General MIDI percussion keys (RP-003, from memory) by what they do; maracas, cabasa and shaker keep time like a hat. */
const KEYS: Readonly<Partial<Record<DrumPart, readonly number[]>>> = {
  kick: [35, 36],
  snare: [38, 40],
  stick: [37, 39],
  hat: [42, 44, 69, 70, 82],
  ride: [51, 53, 59],
  openHat: [46],
  crash: [49, 52, 55, 57],
  lowTom: [41, 43, 45],
  highTom: [47, 48, 50],
};

/** What is no other part is struck with hands, or sounds like it. @example drumPart(38) // "snare" */
export function drumPart(note: number): DrumPart {
  return DRUM_PARTS.find((part) => KEYS[part]?.includes(note)) ?? "hand";
}

/** From the drum that lies lowest to the one that lies highest. */
const FROM_BELOW: readonly DrumPart[] = [
  "kick",
  "lowTom",
  "highTom",
  "hand",
  "snare",
  "stick",
  "openHat",
  "ride",
  "hat",
  "crash",
];

/**
 * Of the parts that are played the lowest: what stands for the kick where there is none.
 * @example lowestPart(new Set(["hat", "kick"])) // "kick"
 */
export function lowestPart(parts: ReadonlySet<PlayedPart>): DrumPart {
  return FROM_BELOW.find((part) => parts.has(part)) ?? "kick";
}
