import { demoBeats } from "../demo/demo-beats";
import { firstPlace } from "../beat/new-beat";
import { DRUM_IDS } from "../drums";
import { writeWav } from "../formats/wav";
import { compileEvents } from "../playback/compile-events";
import { bandPass, decayFactor, finish, loudest, sineTurns } from "./dsp";
import { LAYER_VELOCITIES, renderDrum } from "./kit";
import { VARIANTS } from "./sound";
import { layerFor } from "./sound";
import { setLoudness } from "./stroke-loudness";
import { drumSound } from "./sound-sets";
import { Bus } from "./bus";
import { MAX_VOICES, Mixer } from "./mixer";
import { collect, lapStream } from "./render";
import { KIT_LANES, RATE, startVoice } from "../../../tests/support/player-probe";

const BUS = new Bus();

const drums = DRUM_IDS.map((drum) => renderDrum("deckhouse", drum, RATE));
const bank = {
  sampleRate: RATE,
  sounds: Object.fromEntries(DRUM_IDS.map((drum, at) => [drumSound("deckhouse", drum), drums[at]!])),
};

describe("building blocks", () => {
  test("the polynomial sine stays within 4e-6 of the true one", () => {
    for (let step = -2000; step <= 2000; step++)
      expect(Math.abs(sineTurns(step / 777) - Math.sin((2 * Math.PI * step) / 777))).toBeLessThan(4e-6);
  });
  test("a decay falls by 60 dB in its time, a band passes its centre unchanged", () => {
    expect(decayFactor(0.5, RATE) ** (0.5 * RATE)).toBeCloseTo(0.001, 5);
    const sine = Float32Array.from({ length: RATE }, (_, frame) => Math.sin((2 * Math.PI * 1000 * frame) / RATE));
    bandPass(sine, 1000, 1, RATE);
    expect(loudest(sine.subarray(RATE / 2))).toBeCloseTo(1, 3);
  });
  test("an empty voice stays silent", () =>
    expect(loudest(setLoudness(finish(new Float32Array(500), RATE), -20, RATE))).toBe(0));
});

describe.each(DRUM_IDS.map((id, index) => [id, index] as const))("%s", (_, index) => {
  const { layers } = drums[index]!;
  test("has its layers and variants, each with silent ends, no DC and no tail above -60 dB of its peak", () => {
    expect(layers.map((variants) => variants.length)).toEqual(LAYER_VELOCITIES.map(() => VARIANTS));
    for (const samples of layers.flat()) {
      const peak = loudest(samples);
      expect(Math.abs(samples[0]!) + Math.abs(samples.at(-1)!)).toBe(0);
      expect(Math.abs(samples.reduce((sum, sample) => sum + sample, 0) / samples.length)).toBeLessThan(peak * 0.01);
      expect(loudest(samples.subarray(-Math.round(0.003 * RATE)))).toBeLessThan(peak * 0.001);
      // No click at the start: no step between two samples of more than half the peak in the first ten.
      for (let frame = 1; frame < 10; frame++)
        expect(Math.abs(samples[frame]! - samples[frame - 1]!)).toBeLessThan(peak * 0.5);
    }
  });
  test("harder strokes are louder and of another colour; strokes of one force differ a little", () => {
    const peaks = layers.map(([samples]) => loudest(samples!));
    expect(peaks).toEqual([...peaks].sort((a, b) => a - b));
    const shape = (samples: Float32Array) => {
      const peak = loudest(samples);
      return samples.slice(0, 2000).map((sample) => sample / peak);
    };
    const distance = (a: Float32Array, b: Float32Array) =>
      Math.sqrt(a.reduce((sum, x, at) => sum + (x - (b[at] ?? 0)) ** 2, 0) / a.length);
    expect(distance(shape(layers[0]![0]!), shape(layers[3]![0]!))).toBeGreaterThan(0.01);
    expect(distance(shape(layers[3]![0]!), shape(layers[3]![1]!))).toBeGreaterThan(0.005);
  });
});

test("the same kit comes out twice, and at another rate the drums last as long", () => {
  expect(renderDrum("deckhouse", DRUM_IDS[1]!, RATE)).toEqual(drums[1]);
  drums.forEach(({ layers }, index) => {
    expect(renderDrum("deckhouse", DRUM_IDS[index]!, 44100).layers[3]![0]!.length / 44100).toBeCloseTo(
      layers[3]![0]!.length / RATE,
      1,
    );
  });
});

test.each(demoBeats().map((beat) => [beat.name, beat] as const))(
  "the sum of %s peaks between -12 and -6 dBFS",
  (_, beat) => {
    const { left, right } = collect(
      lapStream([{ table: compileEvents(beat, firstPlace(beat)), lanes: KIT_LANES }], bank, "loop"),
    );
    const peakDb = 20 * Math.log10(Math.max(loudest(left), loudest(right)));
    expect(peakDb).toBeGreaterThan(-12);
    expect(peakDb).toBeLessThan(-6);
  },
);

describe("mixer", () => {
  const long = new Float32Array(RATE).fill(0.001);
  test("64 voices sound; the 65th fades the oldest out instead of cutting it", () => {
    const mixer = new Mixer(RATE);
    for (let voice = 0; voice < MAX_VOICES; voice++) startVoice(mixer, long, 1, 1, voice, BUS);
    expect(mixer.activeVoices(999)).toBe(MAX_VOICES);
    startVoice(mixer, long, 1, 1, 1000, BUS);
    expect(mixer.activeVoices(1000)).toBe(MAX_VOICES);
    const [left, right] = [new Float32Array(2000), new Float32Array(2000)];
    mixer.addTo(left, right, 0);
    for (let frame = 1; frame < 2000; frame++) expect(Math.abs(left[frame]! - left[frame - 1]!)).toBeLessThan(0.0011);
    expect(left[999]).toBeCloseTo(0.064, 5);
    expect(left[1999]).toBeCloseTo(0.064, 5);
  });
  test("a choke group lets only the newest ring; strokes of one moment ring together", () => {
    const mixer = new Mixer(RATE);
    startVoice(mixer, long, 1, 1, 0, BUS, 1);
    startVoice(mixer, long, 1, 1, 0, BUS, 1);
    startVoice(mixer, long, 1, 1, 500, BUS, 1);
    const [left, right] = [new Float32Array(4000), new Float32Array(4000)];
    mixer.addTo(left, right, 0);
    expect(left[499]).toBeCloseTo(0.002, 6);
    expect(left[3999]).toBeCloseTo(0.001, 6);
  });
  test("far more voices than there is room for neither fail nor pile up", () => {
    const mixer = new Mixer(RATE);
    for (let voice = 0; voice < 500; voice++) startVoice(mixer, long, 1, 1, voice, BUS);
    expect(mixer.activeVoices(500)).toBeLessThanOrEqual(MAX_VOICES);
  });
});

test("layers: every velocity has one that was voiced at least as hard", () => {
  for (let velocity = 1; velocity <= 127; velocity++)
    expect(LAYER_VELOCITIES[layerFor(LAYER_VELOCITIES, velocity)]).toBeGreaterThanOrEqual(velocity);
});

test("a rendered loop is exact to the sample and joins itself without a seam", () => {
  const beat = demoBeats()[2]!;
  const table = compileEvents(beat, firstPlace(beat));
  const { left } = collect(lapStream([{ table, lanes: KIT_LANES }], bank, "loop"));
  // 4 bars of 7/8 at 142 BPM: 14 quarters.
  expect(left.length).toBe(Math.round((14 * 60 * RATE) / 142));
  const steps = (samples: Float32Array) => samples.slice(1).map((sample, index) => Math.abs(sample - samples[index]!));
  const seam = Math.abs(left[0]! - left[left.length - 1]!);
  expect(seam).toBeLessThan(loudest(steps(left)));
  const { left: tail } = collect(lapStream([{ table, lanes: KIT_LANES }], bank, "tail"));
  expect(tail.length).toBeGreaterThan(left.length);
});

test.each([
  [16, [32_767, -32_768, 16_384, -1]],
  [24, [8_388_607, -8_388_608, 4_194_304, -256]],
] as const)(
  "a WAV file of %i bits clips at the top and the bottom, rounds to the nearest, left before right",
  (bits, expected) => {
    const values = [1.5, -1.5, 0.5, -1 / 32_768];
    const stream = {
      sampleRate: RATE,
      frames: 2,
      leastFrames: 2,
      next: (left: Float32Array, right: Float32Array) => {
        left.set([values[0]!, values[2]!]);
        right.set([values[1]!, values[3]!]);
      },
    };
    const bytes = writeWav(stream, bits, false);
    const view = new DataView(bytes.buffer, bytes.length - (4 * bits) / 8);
    const read = (at: number) =>
      bits === 16
        ? view.getInt16(2 * at, true)
        : view.getUint8(3 * at) | (view.getUint8(3 * at + 1) << 8) | (view.getInt8(3 * at + 2) << 16);
    expect([0, 1, 2, 3].map(read)).toEqual(expected);
  },
);
