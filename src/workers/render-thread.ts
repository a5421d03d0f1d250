import { move } from "piscina";
import { firstPlaces } from "@/core/beat/new-beat";
import { CoreError } from "@/core/core-error";
import { readBeatArchive, readSamples } from "@/core/formats/beat-archive";
import { MAX_SERVER_RENDER_FRAMES } from "@/core/limits";
import { beatToWav } from "@/core/playback/beat-to-wav";
import { soundsStruck } from "@/core/playback/part-sounds";
import { SoundShelf } from "./sound-shelf";
import type { RenderJob, RenderReply } from "./render-job";

const shelf = new SoundShelf();

/** One request after the other, on a thread of the server's that keeps its sounds: the file is checked here, too. */
export default function render({ file, options }: RenderJob): RenderReply {
  try {
    const { beat, samples } = readBeatArchive(file);
    const most = MAX_SERVER_RENDER_FRAMES;
    const places = firstPlaces(beat);
    const sounds = () => {
      shelf.setSamples(readSamples(samples));
      return shelf.get(soundsStruck(beat, places), options.sampleRate);
    };
    const bytes = beatToWav(beat, places, options, sounds, most);
    return move(bytes.buffer) as ArrayBuffer;
  } catch (error) {
    if (!(error instanceof CoreError)) throw error;
    return { code: error.code, message: error.message, problems: error.problems };
  } finally {
    // The thread stays; what this one sent does not.
    shelf.setSamples({});
  }
}
