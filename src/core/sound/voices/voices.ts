import { VOICES, type VoiceId } from "../../instruments";
import { seededRandom, textSeed } from "../../random";
import { finish, fromDb, loudest, type Samples } from "../dsp";
import { velocityGain, type Sound } from "../sound";
import { noteHertz, semitoneRatio, type NoteVoice, type RenderedNote } from "./note";
import { buoy, cabin, keel, rigging } from "./struck";
import { fog, winch } from "./sustained";

interface VoiceRecipe {
  readonly note: NoteVoice;
  /** Peak of the hardest note in dBFS, set so that chords of four sum as a kit does. */
  readonly peakDb: number;
  /** How fast a note is gone that is let go; without it, it rings out. */
  readonly releaseSeconds?: number;
  /** The highest note that has samples of its own. */
  readonly highest: number;
}

/** The tonal voices, all of our own synthesis. */
export const VOICE_RECIPES: Readonly<Record<VoiceId, VoiceRecipe>> = {
  keel: { note: keel, peakDb: -11, releaseSeconds: 0.09, highest: 72 },
  winch: { note: winch, peakDb: -14, releaseSeconds: 0.05, highest: 84 },
  cabin: { note: cabin, peakDb: -17, releaseSeconds: 0.16, highest: 99 },
  buoy: { note: buoy, peakDb: -15, highest: 99 },
  rigging: { note: rigging, peakDb: -16, releaseSeconds: 0.22, highest: 99 },
  fog: { note: fog, peakDb: -21, releaseSeconds: 0.5, highest: 96 },
};

/** The lowest note that has samples of its own; between those that have, neighbours are played faster or slower. */
const LOWEST_ROOT = 24;
const ROOT_STEP = 3;
/** Velocities at which every note is voiced. */
const LAYER_VELOCITIES = [64, 127] as const;

/** The notes of a voice that have samples of their own, those in its middle first. */
export function rootsOf(id: VoiceId): readonly number[] {
  const { highest } = VOICE_RECIPES[id];
  const { base } = VOICES[id];
  const roots = Array.from({ length: Math.floor((highest - LOWEST_ROOT) / ROOT_STEP) + 1 }, (_, at) => rootAt(at));
  return roots.sort((a, b) => Math.abs(a - base - 6) - Math.abs(b - base - 6));
}

/** The nearest note with samples of its own, and how fast they go by to sound as this one. @param note 0..127 */
export function rootFor(id: VoiceId, note: number): { readonly root: number; readonly rate: number } {
  const last = Math.floor((VOICE_RECIPES[id].highest - LOWEST_ROOT) / ROOT_STEP);
  const at = Math.max(0, Math.min(last, Math.round((note - LOWEST_ROOT) / ROOT_STEP)));
  return { root: rootAt(at), rate: semitoneRatio(note - rootAt(at)) };
}

function rootAt(index: number): number {
  return LOWEST_ROOT + ROOT_STEP * index;
}

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
  if (!loop) return { samples: finish(samples, peak, sampleRate) };
  const scale = peak / (loudest(samples) || 1);
  return { samples: samples.map((sample) => sample * scale) as Samples, loop };
}
