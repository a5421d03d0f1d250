import { zipSync } from "fflate";
import type { Beat, PatternRef } from "../beat/beat";
import { findPart, findPattern } from "../beat/edit";
import { findLane } from "../beat/lanes";
import { isOpenPart } from "../beat/open-part";
import { CoreError } from "../core-error";
import { writeWav } from "../formats/wav/wav";
import { lapStream, type PartSound } from "../sound/player/render";
import { renderSounds } from "../sound/kits/render-sounds";
import { MAX_LANES, type SoundBank } from "../sound/signal/sound";
import { sounding } from "../timing/resolve-timing";
import { partSounds, type WavOptions } from "./beat-to-wav";
import { soundsStruck } from "./part-sounds";

/** What a stem has: all of a part, or of a kit one pad. */
export const STEM_SIZES = ["part", "pad"] as const;
export type StemSize = (typeof STEM_SIZES)[number];

/** All stems of a beat together; more would fill the memory of a page. */
const MAX_STEMS_BYTES = 512 * 1024 * 1024;

/** One stem of a beat. */
interface Stem {
  /** Without what a file's name can't have. */
  readonly name: string;
  readonly partId: number;
  /** Only that lane of it. */
  readonly lane?: number;
}

/**
 * What parts play until they begin together again, taken apart: a ZIP file of WAVs that begin together. Each is as it sounds in
 * the whole, with its level and place, and cut off by what cuts it off there; added up they are the whole, without room and
 * limiter.
 * What does not sound has none.
 * @throws CoreError "too-large" where it would be more than 512 MB, or a pattern is too long; "bad-value" where nothing sounds
 */
export function beatToStems(
  beat: Beat,
  places: readonly PatternRef[],
  size: StemSize,
  { sampleRate, bits, mode }: WavOptions,
  bank: SoundBank | (() => SoundBank) = () => renderSounds(soundsStruck(beat, places), sampleRate),
): Uint8Array {
  const parts = partSounds(beat, places, sampleRate);
  const stems = stemsOf(beat, places, size);
  if (stems.length === 0) throw new CoreError("bad-value", "Nothing sounds in these patterns, so there are no stems.");
  const sounds = typeof bank === "function" ? bank() : bank;
  const files: Record<string, Uint8Array> = {};
  let bytes = 0;
  for (const stem of stems) {
    const wav = writeWav(
      lapStream(alone(parts, stem), sounds, mode, { limited: false, room: false }),
      bits,
      mode === "loop",
    );
    bytes += wav.length;
    if (bytes > MAX_STEMS_BYTES)
      throw new CoreError(
        "too-large",
        "These stems are more than 512 MB together; loop fewer bars, or take fewer bits.",
      );
    files[`${stem.name}.wav`] = wav;
  }
  // Sound hardly gets smaller by this.
  return zipSync(files, { level: 0 });
}

function stemsOf(beat: Beat, places: readonly PatternRef[], size: StemSize): readonly Stem[] {
  const names = new Set<string>();
  const named = (wanted: string) => {
    const plain = wanted.replace(/[^\p{L}\p{N} _.-]+/gu, "").trim() || "Stem";
    let name = plain;
    // To some file systems letters are the same in either case.
    for (let number = 2; names.has(name.toLowerCase()); number++) name = `${plain} ${number}`;
    names.add(name.toLowerCase());
    return name;
  };
  return places.flatMap((patternRef): readonly Stem[] => {
    const part = findPart(beat, patternRef.partId);
    const hits = sounding(part, findPattern(beat, patternRef), beat.meter);
    const { id: partId, name } = part;
    if (hits.length === 0 || !isOpenPart(beat, part)) return [];
    if (part.kind === "tonal" || size === "part") return [{ name: named(name), partId }];
    const lanes = [...new Set(hits.map(({ hit }) => hit.lane))].sort((a, b) => a - b);
    return lanes.map((lane) => ({ name: named(`${name} ${findLane(part, lane)!.name}`), partId, lane }));
  });
}

/** The same with all else turned down: what cuts off, or is cut off, does so as ever. */
function alone(parts: readonly PartSound[], { partId, lane }: Stem): readonly PartSound[] {
  return parts.map((part) => {
    const { gains, room, muted } = part.mix!;
    const kept = new Float32Array(2 * MAX_LANES);
    if (part.table.partId === partId) {
      const [from, to] = lane === undefined ? [0, kept.length] : [2 * lane, 2 * lane + 2];
      kept.set(gains.subarray(from, to), from);
    }
    return { ...part, mix: { gains: kept, room, muted } };
  });
}
