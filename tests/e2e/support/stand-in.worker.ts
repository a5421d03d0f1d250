import { expose } from "comlink";
import type { Sound, SoundId } from "@/core/sound/signal/sound";
import { isDerived } from "@/core/sound/kits/sound-sets";
import { renderService } from "@/workers/render-service";
import { SoundShelf } from "@/workers/sound-shelf";
import { standInSound } from "./stand-in-sound";

/** Short bursts in the place of drums and notes; what is tuned or cut out of a sample is made as ever. */
class StandInShelf extends SoundShelf {
  override make(id: SoundId, sampleRate: number): Sound {
    return isDerived(id) ? super.make(id, sampleRate) : standInSound(id, sampleRate);
  }
}

expose(renderService(new StandInShelf()));
