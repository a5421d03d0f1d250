import type { VoiceId } from "../../instruments";
import { seededRandom, textSeed } from "../../random";
import { finish, fromDb, setPeak } from "../dsp";
import { velocityGain, type Sound } from "../sound";
import type { NoteVoice, RenderedNote } from "./note";
import { noteHertz } from "./pitch";
import { buoy, cabin, keel, rigging } from "./struck";
import { fog, winch } from "./sustained";

interface VoiceRecipe {
  readonly note: NoteVoice;
  /** Peak of the hardest note in dBFS, set so that chords of four sum as a kit does. */
  readonly peakDb: number;
  /** How fast a note is gone that is let go; without it, it rings out. */
  readonly releaseSeconds?: number;
}

/** The tonal voices, all of our own synthesis. */
export const VOICE_RECIPES: Readonly<Record<VoiceId, VoiceRecipe>> = {
  keel: { note: keel, peakDb: -11, releaseSeconds: 0.09 },
  winch: { note: winch, peakDb: -14, releaseSeconds: 0.05 },
  cabin: { note: cabin, peakDb: -17, releaseSeconds: 0.16 },
  buoy: { note: buoy, peakDb: -15 },
  rigging: { note: rigging, peakDb: -16, releaseSeconds: 0.22 },
  fog: { note: fog, peakDb: -21, releaseSeconds: 0.5 },
};

/** Velocities at which every note is voiced. */
const LAYER_VELOCITIES = [64, 127] as const;

/** One note of a voice. The same sample rate gives the same samples on every machine. */
export function renderNote(id: VoiceId, root: number, sampleRate: number): Sound {
  const voice = VOICE_RECIPES[id];
  const notes = LAYER_VELOCITIES.map((velocity) => {
    const random = seededRandom(textSeed(`${id} ${root}`));
    const note = voice.note({ hertz: noteHertz(root), sampleRate, force: velocity / 127, random });
    return finishNote(note, fromDb(voice.peakDb) * velocityGain(velocity), sampleRate);
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

function finishNote({ samples, loop }: RenderedNote, peak: number, sampleRate: number): RenderedNote {
  return loop ? { samples: setPeak(samples, peak), loop } : { samples: setPeak(finish(samples, sampleRate), peak) };
}
