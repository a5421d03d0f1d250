import { demoBeats } from "../demo/demo-beats";
import { firstPlace, firstPlaces } from "../beat/new-beat";
import { DRUM_IDS } from "../drums";
import { writeWav } from "../formats/wav/wav";
import { partSounds } from "../playback/beat-to-wav";
import { compileEvents } from "../playback/compile-events";
import type { Samples } from "./signal/dsp";
import { seededRandom } from "../random";
import { bandPass, decayFactor, finish, loudest, sineTurns } from "./signal/dsp";
import { LAYERS, renderDrum } from "./kits/kit";
import { layerFor } from "./signal/sound";
import { setLoudness } from "./loudness/stroke-loudness";
import { drumSound } from "./kits/sound-sets";
import { Bus } from "./mix/bus";
import { MAX_VOICES, Mixer } from "./mix/mixer";
import { LoudnessMeter } from "./loudness/loudness";
import { collect, lapStream } from "./player/render";
import { demoBank } from "../../../tests/support/demo-bank";
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
    expect(loudest(setLoudness([finish(new Float32Array(500), RATE)], -20, RATE)[0]!)).toBe(0));
});

describe.each(DRUM_IDS.map((id, index) => [id, index] as const))("%s", (_, index) => {
  const { layers, velocities, right } = drums[index]!;
  test("has its layers and variants, each with silent ends, no DC and no tail above -60 dB of its peak", () => {
    expect(layers).toHaveLength(velocities.length);
    for (const variants of layers) expect(variants.length).toBeGreaterThan(1);
    if (right)
      expect(right.map((variants) => variants.map(({ length }) => length))).toEqual(
        layers.map((variants) => variants.map(({ length }) => length)),
      );
    for (const samples of [...layers, ...(right ?? [])].flat()) {
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
    expect(distance(shape(layers[0]![0]!), shape(layers.at(-1)![0]!))).toBeGreaterThan(0.01);
    expect(distance(shape(layers.at(-1)![0]!), shape(layers.at(-1)![1]!))).toBeGreaterThan(0.005);
  });
});

test("the same kit comes out twice, and at another rate the drums last as long", () => {
  expect(renderDrum("deckhouse", DRUM_IDS[1]!, RATE)).toEqual(drums[1]);
  drums.forEach(({ layers }, index) => {
    const seconds = renderDrum("deckhouse", DRUM_IDS[index]!, 44_100).layers.at(-1)![0]!.length / 44_100;
    expect(Math.abs((seconds * RATE) / layers.at(-1)![0]!.length - 1)).toBeLessThan(0.03);
  });
});

test("demo beats are as loud as each other, leave 6 dB of room, and the limiter has nothing to do", () => {
  const heard = demoBeats().map((beat) => {
    const parts = partSounds(beat, firstPlaces(beat), RATE);
    const lap = (limited: boolean) => {
      const { left, right } = collect(lapStream(parts, demoBank(beat, RATE), "loop", { limited, room: true }));
      return [left, right] as const;
    };
    const open = lap(false);
    lap(true).forEach((limited, side) => {
      const apart = limited.reduce((most, sample, at) => Math.max(most, Math.abs(sample - open[side]![at]!)), 0);
      expect(apart).toBeLessThan(1e-6);
    });
    const meter = new LoudnessMeter(RATE);
    meter.add(...open);
    return { peakDb: 20 * Math.log10(Math.max(...open.map(loudest))), lufs: meter.integrated };
  });
  for (const { peakDb } of heard) {
    expect(peakDb).toBeGreaterThan(-9);
    expect(peakDb).toBeLessThan(-6);
  }
  const levels = heard.map(({ lufs }) => lufs);
  expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(1.5);
  expect(Math.min(...levels)).toBeGreaterThan(-24.5);
});

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
  test("what is cut off while it fades goes on from where it is, wherever blocks begin", () => {
    const play = (blockFrames: number) => {
      const mixer = new Mixer(RATE);
      const shape = { gainLeft: 1, gainRight: 1, chokeGroup: 1 };
      mixer.start(BUS, 0, shape, new Float32Array(RATE).fill(0.5), 1, 1, 0, 100);
      mixer.start(BUS, 1, shape, new Float32Array(RATE), 1, 1, 600, 0);
      const [left, right] = [new Float32Array(4096), new Float32Array(4096)];
      for (let frame = 0; frame < left.length; frame += blockFrames)
        mixer.addTo(left.subarray(frame, frame + blockFrames), right.subarray(frame, frame + blockFrames), frame);
      return left;
    };
    const whole = play(4096);
    expect(play(128)).toEqual(whole);
    expect(play(64)).toEqual(whole);
    for (let frame = 1; frame < whole.length; frame++) expect(whole[frame]).toBeLessThanOrEqual(whole[frame - 1]!);
    // In the middle of its 40 ms, and by 25 ms behind the cut it is gone.
    expect(whole[600]).toBeCloseTo(0.5 * (1 - 500 / (0.04 * RATE)), 6);
    expect(whole[600 + Math.round(0.025 * RATE)]).toBe(0);
  });
  test("two sides sound as two voices would that are heard on one each: at another pitch, with decay, cut off, and in the room", () => {
    const random = seededRandom(1);
    const [a, b] = [1, 2].map(() => Float32Array.from({ length: 3000 }, () => random() - 0.5)) as [Samples, Samples];
    const play = (strike: (mixer: Mixer, bus: Bus) => void) => {
      const [mixer, bus] = [new Mixer(RATE), new Bus()];
      bus.room.fill(0.5);
      strike(mixer, bus);
      const [left, right] = [new Float32Array(4096), new Float32Array(4096)];
      for (let frame = 0; frame < left.length; frame += 128)
        mixer.addTo(left.subarray(frame, frame + 128), right.subarray(frame, frame + 128), frame);
      return [left, right];
    };
    const shape = { gainLeft: 0.7, gainRight: 1.2, chokeGroup: 0, decaySeconds: 0.2 };
    const together = play((mixer, bus) => mixer.start(bus, 0, shape, a, 1, 1.3, 5, 1000, b));
    const apart = play((mixer, bus) => {
      mixer.start(bus, 0, { ...shape, gainRight: 0 }, a, 1, 1.3, 5, 1000);
      mixer.start(bus, 0, { ...shape, gainLeft: 0 }, b, 1, 1.3, 5, 1000);
    });
    for (const side of [0, 1])
      together[side]!.forEach((sample, frame) => expect(sample).toBeCloseTo(apart[side]![frame]!, 6));
    expect(loudest(together[1]!)).toBeGreaterThan(0.3);
  });
  test("far more voices than there is room for neither fail nor pile up", () => {
    const mixer = new Mixer(RATE);
    for (let voice = 0; voice < 500; voice++) startVoice(mixer, long, 1, 1, voice, BUS);
    expect(mixer.activeVoices(500)).toBeLessThanOrEqual(MAX_VOICES);
  });
});

test("layers: every velocity has one that was voiced at least as hard", () => {
  for (let velocity = 1; velocity <= 127; velocity++)
    expect(LAYERS.velocities[layerFor(LAYERS.velocities, velocity)]).toBeGreaterThanOrEqual(velocity);
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
