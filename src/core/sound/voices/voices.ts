import type { VoiceId } from "../../instruments";
import { seededRandom, textSeed } from "../../random";
import { finish } from "../signal/dsp";
import { velocityDb, type Sound } from "../signal/sound";
import { setLoudness } from "../loudness/stroke-loudness";
import type { NoteVoice } from "./note";
import { noteHertz } from "./pitch";
import { buoy, cabin, keel, rigging } from "./struck";
import { fog, winch } from "./sustained";

interface VoiceRecipe {
  readonly note: NoteVoice;
  /** How loud the hardest note is wherever it lies, in LUFS of its beginning, set so that chords of four sum as a kit does. */
  readonly lufs: number;
  /** What is taken for its beginning, where that is more than of a stroke. */
  readonly beginSeconds?: number;
  /** How fast a note is gone that is let go; without it, it rings out. */
  readonly releaseSeconds?: number;
}

/** The tonal voices, all of our own synthesis. */
export const VOICE_RECIPES: Readonly<Record<VoiceId, VoiceRecipe>> = {
  keel: { note: keel, lufs: -19.5, releaseSeconds: 0.09 },
  winch: { note: winch, lufs: -20.5, releaseSeconds: 0.05 },
  cabin: { note: cabin, lufs: -21, releaseSeconds: 0.16 },
  buoy: { note: buoy, lufs: -23 },
  rigging: { note: rigging, lufs: -24.3, releaseSeconds: 0.22 },
  fog: { note: fog, lufs: -26, beginSeconds: 0.6, releaseSeconds: 0.5 },
};

/** Velocities at which every note is voiced. */
const LAYER_VELOCITIES = [64, 127] as const;

/** One note of a voice. The same sample rate gives the same samples on every machine. */
export function renderNote(id: VoiceId, root: number, sampleRate: number): Sound {
  const voice = VOICE_RECIPES[id];
  const notes = LAYER_VELOCITIES.map((velocity) => {
    const random = seededRandom(textSeed(`${id} ${root}`));
    const note = voice.note({ hertz: noteHertz(root), sampleRate, force: velocity / 127, random });
    const samples = note.loop ? note.samples : finish(note.samples, sampleRate);
    setLoudness([samples], voice.lufs + velocityDb(velocity), sampleRate, voice.beginSeconds);
    return { ...note, samples };
  });
  const loop = notes[0]!.loop;
  const releaseFrames = Math.round((voice.releaseSeconds ?? 0) * sampleRate);
  return {
    layers: notes.map(({ samples }) => [samples]),
    velocities: LAYER_VELOCITIES,
    gainLeft: 1,
    gainRight: 1,
    chokeGroup: 0,
    ...(releaseFrames > 0 && { held: { ...(loop && { loop }), releaseFrames } }),
  };
}
