import type { Beat, Mix, SampleSource } from "../beat/beat";
import { setPadMix, setPartMix } from "../beat/edits/mix-edit";
import { setKit, setPadSound } from "../beat/edits/own-kit";
import { DRUM_IDS, type DrumId } from "../drums";
import { sampleIdOf, type SampleFiles } from "../formats/archive";
import { SAMPLE_RATE } from "../beat/beat";
import { writeSampleWav } from "../formats/wav/sample-wav";
import type { KitId } from "../instruments";
import { seededRandom, textSeed } from "../random";
import { addNoise, finish, lowPass, setPeak, silence, type Samples } from "../sound/signal/dsp";
import { addModes } from "../sound/signal/modes";
import type { OwnSample } from "../sound/kits/own-sample";

/** What a demo beat sounds like, where it is not a new beat's kit in no room. */
interface DemoSound {
  readonly kitId?: KitId;
  /** Of the kit: all demo beats are about as loud, and leave as much room. */
  readonly mix?: Partial<Mix>;
  /** Of single drums. */
  readonly levelsDb?: Partial<Record<DrumId, number>>;
  /** The drum whose place the sample has. */
  readonly hull?: DrumId;
}

const SOUNDS: Readonly<Record<string, DemoSound>> = {
  "slow-harbour": { mix: { roomDb: -17 }, levelsDb: { snare: 2, shaker: 3 }, hull: "conga" },
  "gangway-shuffle": { mix: { roomDb: -14, levelDb: -0.5 } },
  "tide-table": { kitId: "ropeAndCrate", mix: { roomDb: -16, levelDb: -3 } },
  "lantern-room": { kitId: "signalLamp" },
};

/** Gives a demo beat's kit its sounds. */
export function withDemoSounds(beat: Beat): Beat {
  const { kitId, mix = {}, levelsDb = {}, hull } = SOUNDS[beat.id] ?? {};
  const partId = beat.parts[0]!.id;
  const kit = kitId ? setKit(beat, partId, kitId) : beat;
  const mixed = DRUM_IDS.reduce(
    (now, drum, pad) => {
      const levelDb = levelsDb[drum];
      return levelDb === undefined ? now : setPadMix(now, partId, pad, { levelDb });
    },
    setPartMix(kit, partId, mix),
  );
  if (!hull) return mixed;
  return setPadSound(mixed, partId, DRUM_IDS.indexOf(hull), { layers: [{ source: hullSource() }] });
}

/** The samples of the demo beats. */
export function demoSamples(): SampleFiles {
  const { id, wav } = hullFile();
  return { [id]: wav };
}

function hullSource(): SampleSource {
  const { id, frames } = hullFile();
  const cut = { startFrame: 0, endFrame: frames, fadeMs: 20 };
  return { kind: "sample", sampleId: id, name: "Hull", channels: 2, ...cut, gainDb: -4 };
}

let hull: { readonly id: string; readonly wav: Uint8Array<ArrayBuffer>; readonly frames: number } | undefined;

function hullFile() {
  if (hull) return hull;
  const sample = knockOnHull();
  const wav = writeSampleWav(sample);
  hull = { id: sampleIdOf(wav), wav, frames: sample.channels[0]!.length };
  return hull;
}

/** A knock on the plates of a hull, as it is heard on the quay: what a player might have recorded there. */
function knockOnHull(): OwnSample {
  const random = seededRandom(textSeed("hull"));
  const side = (spread: number): Samples => {
    const out = silence(0.7, SAMPLE_RATE);
    const modes = [171, 243, 388, 521, 797, 1180, 1733].map((hertz, index) => ({
      hertz: hertz * (1 + spread * (index % 2 === 0 ? 1 : -1)),
      decaySeconds: 0.55 / (1 + 0.3 * index),
      gain: 0.7 / (1 + 0.4 * index),
    }));
    addModes(out, modes, SAMPLE_RATE);
    addNoise(out, { gain: 0.5, decaySeconds: 0.02, lowHertz: 300, highHertz: 3200 }, SAMPLE_RATE, random);
    addNoise(
      out,
      { startSeconds: 0.02, gain: 0.12, decaySeconds: 0.3, lowHertz: 200, highHertz: 1400 },
      SAMPLE_RATE,
      random,
    );
    lowPass(out, 5200, SAMPLE_RATE);
    return setPeak(finish(out, SAMPLE_RATE), 0.35);
  };
  const [left, right] = [side(0.002), side(-0.003)];
  const frames = Math.min(left.length, right.length);
  return { sampleRate: SAMPLE_RATE, channels: [left.slice(0, frames), right.slice(0, frames)] };
}
