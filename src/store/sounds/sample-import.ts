import type { Beat, Pad, PadLayer, SampleSource } from "@/core/beat/beat";
import { samplesIn } from "@/core/beat/samples/pad-samples";
import { CoreError } from "@/core/core-error";
import { sampleIdOf } from "@/core/formats/archive";
import { writeSampleWav } from "@/core/formats/wav/sample-wav";
import { MAX_SAMPLE_BYTES, MAX_SAMPLES } from "@/core/limits";
import { gainToMatch } from "@/core/sound/loudness/sample-level";
import type { Repository } from "../persistence/repository";
import { readAudioFile, type Decoder } from "./decode-audio";

const FADE_MS = 10;

export interface Imported {
  readonly source: SampleSource;
  readonly leftOut: readonly string[];
}

/**
 * Takes an audio file into the store, and says how a pad strikes it.
 * @param beat the samples that it strikes count
 * @param targetLufs as loud it is to be
 * @throws CoreError where it is no sound, or there is no room for it; then nothing is kept
 */
export async function importSample(
  file: File,
  beat: Beat,
  targetLufs: number,
  repository: Pick<Repository, "samples">,
  decoder?: Decoder,
): Promise<Imported> {
  const { sample, leftOut } = await readAudioFile(file, decoder);
  const wav = writeSampleWav(sample);
  const sampleId = sampleIdOf(wav);
  await checkRoom(beat, sampleId, wav.length, repository);
  if (!(await repository.samples.put({ [sampleId]: wav })))
    throw new CoreError("too-large", "The browser’s store has no room for it.");
  const { channels, sampleRate } = sample;
  const cut = { startFrame: 0, endFrame: channels[0]!.length, fadeMs: FADE_MS };
  const gainDb = gainToMatch(channels, sampleRate, targetLufs);
  const name = file.name.replace(/\.[^.]*$/, "").slice(0, 120) || "Sample";
  return {
    source: { kind: "sample", sampleId, name, channels: channels.length === 2 ? 2 : 1, ...cut, gainDb },
    leftOut,
  };
}

async function checkRoom(beat: Beat, id: string, bytes: number, { samples }: Pick<Repository, "samples">) {
  const used = samplesIn(beat).filter((one) => one !== id);
  if (used.length + 1 > MAX_SAMPLES) throw new CoreError("too-large", `A beat has ${MAX_SAMPLES} samples at the most.`);
  const files = await samples.files(used);
  const together = Object.values(files).reduce((sum, { length }) => sum + length, bytes);
  if (together > MAX_SAMPLE_BYTES) throw new CoreError("too-large", "The samples of a beat may have 50 MB together.");
}

/** A pad that strikes a sample alone. */
export function layersOf(source: SampleSource): Pick<Pad, "layers"> {
  return { layers: [{ source } satisfies PadLayer] };
}
