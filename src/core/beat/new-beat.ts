import { DRUM_IDS, DRUMS, type DrumId } from "../drums";
import type { Meter } from "../time/meter";
import type { VoiceId } from "../instruments";
import type { Beat, KitPart, Lane, Mix, Pad, PatternRef, QuantizeSettings, TonalPart } from "./beat";

/** The safe way is the default: sixteenths, all the way, as far as they reach. */
export const DEFAULT_QUANTIZE: QuantizeSettings = { grid: "1/16", strength: 1, reach: 1 };
export const DEFAULT_METER: Meter = { beats: 4, unit: 4 };
export const DEFAULT_BPM = 100;
export const DEFAULT_BARS = 2;
export const MAX_BARS = 2000;
/** The longest loop that the workspace offers; files may bring longer ones. */
export const MAX_LOOP_BARS = 16;

/** As the sounds are made, and nothing sent into the room. */
export const PLAIN_MIX: Mix = { levelDb: 0, pan: 0, roomDb: -60 };

/** The pads every kit part starts with, in the order of the keys. @example defaultPads().length // 16 */
export function defaultPads(): readonly Pad[] {
  return DRUM_IDS.map((drum, id) => ({ ...drumPad(drum, id), slot: id }));
}

/** A pad for a drum, without a key of its own. @example drumPad("kick", 0).name // "Kick" */
export function drumPad(drum: DrumId, id: Lane, { name, note } = DRUMS[drum] as Pick<Pad, "name" | "note">): Pad {
  const { role, family } = DRUMS[drum];
  const layers = [{ source: { kind: "drum" as const, drum } }];
  return { id, name, note, role, family, layers, mix: PLAIN_MIX, muted: false, soloed: false };
}

export interface NewBeat {
  readonly id: string;
  readonly name: string;
  readonly bpm?: number;
  readonly meter?: Meter;
  readonly bars?: number;
}

/** A part that begins. */
export interface NewPart {
  readonly partId: number;
  readonly patternId: number;
  readonly name: string;
  readonly bars: number;
}

/** A kit part with one empty pattern. @example kitPart({ partId: 1, patternId: 2, name: "Kit", bars: 2 }).patterns.length // 1 */
export function kitPart({ partId, patternId, name, bars }: NewPart): KitPart {
  return {
    id: partId,
    name,
    kind: "kit",
    kitId: "deckhouse",
    mix: PLAIN_MIX,
    muted: false,
    soloed: false,
    pads: defaultPads(),
    patterns: [{ id: patternId, name: "Pattern 1", bars, passes: [] }],
  };
}

/** A tonal part with one empty pattern. */
export function tonalPart({
  partId,
  patternId,
  name,
  bars,
  voiceId,
}: NewPart & { readonly voiceId: VoiceId }): TonalPart {
  return {
    id: partId,
    name,
    kind: "tonal",
    voiceId,
    transpose: 0,
    mix: PLAIN_MIX,
    muted: false,
    soloed: false,
    patterns: [{ id: patternId, name: "Pattern 1", bars, passes: [] }],
  };
}

/** A beat with one kit part and one empty pattern. @example newBeat({ id: "ebb", name: "Ebb" }).bpm // 100 */
export function newBeat({ id, name, bpm = DEFAULT_BPM, meter = DEFAULT_METER, bars = DEFAULT_BARS }: NewBeat): Beat {
  return {
    id,
    name,
    bpm,
    meter,
    inputQuantize: DEFAULT_QUANTIZE,
    parts: [kitPart({ partId: 1, patternId: 2, name: "Kit", bars })],
    nextId: 3,
  };
}

/** Every part in its first pattern. @example firstPlaces(beat) // [{ partId: 1, patternId: 2 }] */
export function firstPlaces({ parts }: Beat): readonly PatternRef[] {
  return parts.map(({ id, patterns }) => ({ partId: id, patternId: patterns[0]!.id }));
}

/** The pattern that opens first. @example firstPlace(beat) // { partId: 1, patternId: 2 } */
export function firstPlace(beat: Beat): PatternRef {
  const part = beat.parts[0]!;
  return { partId: part.id, patternId: part.patterns[0]!.id };
}
