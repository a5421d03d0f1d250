import { createHash } from "node:crypto";
import { VOICE_IDS, VOICES, type VoiceId } from "../../instruments";
import { Bus } from "../mix/bus";
import { Mixer } from "../mix/mixer";
import { noteSound, soundsOf } from "../kits/sound-sets";
import { renderSound } from "../kits/render-sounds";
import { noteHertz } from "./pitch";
import { renderNote, VOICE_RECIPES } from "./voices";
import { HIGHEST_ROOTS, rootFor, rootsOf } from "./roots";

/** A note as the mixer plays it, with what it is let go after. */
function played(voice: VoiceId, note: number, sampleRate: number, seconds: number, cutSeconds = 0): Float32Array {
  const { soundId, rate } = noteSound(voice, note);
  const sound = renderSound(soundId, sampleRate);
  const mixer = new Mixer(sampleRate);
  mixer.start(new Bus(), note, sound, sound.layers[1]![0]!, 1, rate, 0, Math.round(cutSeconds * sampleRate));
  const [left, right] = [new Float32Array(seconds * sampleRate), new Float32Array(seconds * sampleRate)];
  for (let frame = 0; frame < left.length; frame += 128)
    mixer.addTo(left.subarray(frame, frame + 128), right.subarray(frame, frame + 128), frame);
  return left;
}

/** How alike samples are to themselves a lag later. */
function alike(samples: Float32Array, lag: number): number {
  let sum = 0;
  for (let at = 0; at + lag < samples.length; at++) sum += samples[at]! * samples[at + lag]!;
  return sum;
}

/** The pitch by autocorrelation, near an expected one: over one period, and then over as many as stay in step. */
function pitchOf(samples: Float32Array, sampleRate: number, near: number): number {
  let period = sampleRate / near;
  for (const periods of [1, 4, 16]) {
    const lags = Array.from({ length: 2 * Math.ceil(period * 0.04 * periods ** 0.2) + 3 }, (_, at) => at);
    const first = Math.round(periods * period) - Math.floor(lags.length / 2);
    const sums = lags.map((at) => alike(samples, first + at));
    const best = sums.indexOf(Math.max(...sums.slice(1, -1)));
    const [before, top, after] = [sums[best - 1]!, sums[best]!, sums[best + 1]!];
    // The top of the parabola through the three around.
    period = (first + best + (before - after) / (2 * (before - 2 * top + after))) / periods;
  }
  return sampleRate / period;
}

/** 440 * 2^((n - 69) / 12), ISO 16:1975 for the 440. */
const expectedHertz = (note: number) => 440 * 2 ** ((note - 69) / 12);

describe.each(VOICE_IDS)("%s", (id) => {
  test.each([44_100, 48_000, 96_000])("is in tune over its range at %d Hz, to 3 cents", (sampleRate) => {
    const { base } = VOICES[id];
    const highest = HIGHEST_ROOTS[id];
    for (let note = Math.max(28, base - 12); note <= Math.min(highest, base + 36); note += 5) {
      const settled = played(id, note, sampleRate, 0.75).subarray(Math.round(0.05 * sampleRate));
      const cents = 1200 * Math.log2(pitchOf(settled, sampleRate, expectedHertz(note)) / expectedHertz(note));
      expect(Math.abs(cents)).toBeLessThan(3);
    }
  });

  test("twelve semitones up fold nothing back above -60 dB", () => {
    const sampleRate = 48_000;
    const { layers } = renderNote(id, rootFor(id, 84).root, sampleRate);
    const samples = layers[1]![0]!.subarray(0, 16_384);
    // Every second sample is kept: what lies above a quarter of the rate folds back.
    const power = powerSpectrum(samples);
    const total = power.reduce((sum, one) => sum + one, 0);
    const above = power.slice(power.length / 2).reduce((sum, one) => sum + one, 0);
    expect(10 * Math.log10(above / total)).toBeLessThan(-60);
  });

  test("between samples a note is what an exact reading makes of them, to -60 dB", () => {
    const { soundId } = noteSound(id, 60);
    const sound = renderSound(soundId, 48_000);
    const samples = sound.layers[1]![0]!;
    const rate = 2 ** (7 / 12);
    const mixer = new Mixer(48_000);
    mixer.start(new Bus(), 60, sound, samples, 1, Math.fround(rate), 0, 0);
    const [left, right] = [new Float32Array(4096), new Float32Array(4096)];
    mixer.addTo(left, right, 0);
    let [wrong, power] = [0, 0];
    for (let at = 1000; at < 3000; at += 7) {
      const exact = sincRead(samples, at * Math.fround(rate));
      wrong += (left[at]! - exact) ** 2;
      power += exact ** 2;
    }
    expect(10 * Math.log10(wrong / power)).toBeLessThan(-60);
  });

  test("a note ends when it is let go, if it does, and a held one goes on without a seam", () => {
    const { releaseSeconds } = VOICE_RECIPES[id];
    const sampleRate = 44_100;
    const ended = played(id, VOICES[id].base, sampleRate, 2, 0.5);
    const end = Math.round((0.5 + (releaseSeconds ?? 0)) * sampleRate) + 128;
    if (releaseSeconds) expect(ended.subarray(end).every((sample) => sample === 0)).toBe(true);
    const sound = renderNote(id, rootFor(id, 60).root, sampleRate);
    const loop = sound.held?.loop;
    if (!loop) return;
    for (const [samples] of sound.layers)
      for (let behind = 0; behind < 3; behind++)
        expect(Math.abs(samples![loop[1] + behind]! - samples![loop[0] + behind]!)).toBeLessThan(1e-4);
    const held = played(id, 60, sampleRate, 5);
    const last = held.subarray(4 * sampleRate);
    expect(last.reduce((sum, sample) => sum + sample ** 2, 0)).toBeGreaterThan(0.1);
    const steps = last.subarray(1).map((sample, at) => Math.abs(sample - last[at]!));
    const first = held.subarray(sampleRate, 2 * sampleRate);
    const before = first.subarray(1).map((sample, at) => Math.abs(sample - first[at]!));
    expect(Math.max(...steps)).toBeLessThan(1.2 * Math.max(...before));
  });
});

test("every note of 0 to 127 has a sound that is made; only those beyond a voice's range are more than a semitone away", () => {
  for (const id of VOICE_IDS) {
    const made = new Set(soundsOf(id));
    for (let note = 0; note < 128; note++) {
      const { soundId, rate } = noteSound(id, note);
      expect(made.has(soundId)).toBe(true);
      expect(noteHertz(note) / (noteHertz(Number(soundId.split("/")[1])) * rate)).toBeCloseTo(1, 6);
      if (note >= 23 && note <= HIGHEST_ROOTS[id] + 1) expect(Math.abs(Math.log2(rate) * 12)).toBeLessThan(1.001);
    }
  }
  // The sounds that are needed first are made first.
  expect(Math.abs(rootsOf("cabin")[0]! - VOICES.cabin.base - 6)).toBeLessThan(2);
});

/** Of both layers of a note in the middle at 44.1 kHz; noted when the voices were made. */
const NOTED: Readonly<Record<VoiceId, string>> = {
  keel: "2fcb8e266b2dd2cc",
  winch: "1af265f75d90c1ec",
  cabin: "8fd060103373fc90",
  buoy: "34f6de151dde55a8",
  rigging: "39b36bf1a77e0d9e",
  fog: "53a9bf28ab7011f6",
};

test.each(VOICE_IDS)("%s has the samples that it had on every other machine", (id) => {
  const hash = createHash("sha256");
  for (const [samples] of renderNote(id, 60, 44_100).layers)
    hash.update(new Uint8Array(samples!.buffer, samples!.byteOffset, samples!.byteLength));
  expect(hash.digest("hex").slice(0, 16)).toBe(NOTED[id]);
});

/** Reads between samples by a windowed sinc over 64 of them (Shannon's theorem; Hann's window). */
function sincRead(samples: Float32Array, at: number): number {
  let sum = 0;
  for (let index = Math.floor(at) - 31; index <= Math.floor(at) + 32; index++) {
    const x = at - index;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    sum += (samples[index] ?? 0) * sinc * (0.5 + 0.5 * Math.cos((Math.PI * x) / 32.5));
  }
  return sum;
}

/** Power by frequency up to half the rate: a plain radix-2 transform (Cooley, Tukey 1965), Hann's window. */
function powerSpectrum(samples: Float32Array): Float64Array {
  const size = samples.length;
  const re = Float64Array.from(samples, (sample, at) => sample * (0.5 - 0.5 * Math.cos((2 * Math.PI * at) / size)));
  const im = new Float64Array(size);
  for (let at = 1, other = 0; at < size; at++) {
    let bit = size >> 1;
    for (; other & bit; bit >>= 1) other ^= bit;
    other ^= bit;
    if (at < other) [re[at], re[other]] = [re[other]!, re[at]!];
  }
  for (let length = 2; length <= size; length <<= 1)
    for (let from = 0; from < size; from += length)
      for (let k = 0; k < length / 2; k++) {
        const angle = (-2 * Math.PI * k) / length;
        const [a, b] = [from + k, from + k + length / 2];
        const [re2, im2] = [
          re[b]! * Math.cos(angle) - im[b]! * Math.sin(angle),
          re[b]! * Math.sin(angle) + im[b]! * Math.cos(angle),
        ];
        [re[b], im[b]] = [re[a]! - re2, im[a]! - im2];
        [re[a], im[a]] = [re[a]! + re2, im[a]! + im2];
      }
  return re.slice(0, size / 2).map((x, at) => x * x + im[at]! * im[at]!);
}
