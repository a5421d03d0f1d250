import type { Beat } from "../beat/beat";
import type { OwnSamples } from "../sound/kits/own-sample";
import { isArchive, readArchive, writeArchive, type SampleFiles } from "./archive";
import { readBeatFile, writeBeatFile } from "./beat-file";
import { readSampleWav } from "./wav/sample-wav";

/** A beat, and the samples of the player's own that it strikes. */
export interface BeatWithSamples {
  readonly beat: Beat;
  readonly samples: SampleFiles;
}

const BEAT_NAME = "beat.json";

/** A beat file: JSON where it strikes no samples, else a ZIP file of beat.json and samples. */
export function writeBeatArchive({ beat, samples }: BeatWithSamples): string | Uint8Array<ArrayBuffer> {
  const text = writeBeatFile(beat);
  return Object.keys(samples).length === 0 ? text : writeArchive(BEAT_NAME, text, samples);
}

/** The inverse, for files of either kind from anywhere. @throws CoreError as readBeatFile and readArchive */
export function readBeatArchive(bytes: Uint8Array): BeatWithSamples {
  if (!isArchive(bytes)) return { beat: readBeatFile(new TextDecoder().decode(bytes)), samples: {} };
  const { text, samples } = readArchive(bytes, BEAT_NAME);
  return { beat: readBeatFile(text), samples };
}

/** Files as samples. */
export function readSamples(files: SampleFiles): OwnSamples {
  return Object.fromEntries(Object.entries(files).map(([id, wav]) => [id, readSampleWav(wav)]));
}
