import { RATE, startVoice } from "../../../../tests/support/player-probe";
import { loudest } from "../signal/dsp";
import { fromDb } from "../signal/gain";
import { Limiter } from "./limiter";
import { limiterDelayFrames } from "./limiter-delay";
import { seededRandom } from "../../random";
import { Bus } from "./bus";
import { Mixer } from "./mixer";

const BUS = new Bus();

const constant = (length: number, value: number) => new Float32Array(length).fill(value);

describe("the limiter", () => {
  const DELAY = limiterDelayFrames(RATE);
  const CEILING = fromDb(-1.4);
  /** What comes out of it, as if it were not late. */
  const through = (limiter: Limiter, left: Float32Array, right = left.slice()) => {
    const ahead = (samples: Float32Array) => Float32Array.from([...samples, ...constant(DELAY, 0)]);
    const [a, b] = [ahead(left), ahead(right)];
    const worked = limiter.process(a, b);
    return { left: a.subarray(DELAY), right: b.subarray(DELAY), worked };
  };

  test("below its ceiling it changes no bit, and is about 2 ms late", () => {
    const quiet = Float32Array.from({ length: 500 }, (_, frame) => 0.8 * Math.sin(frame));
    const { left, worked } = through(new Limiter(RATE), quiet);
    expect(worked).toBe(false);
    expect(left).toEqual(quiet);
    expect(DELAY / RATE).toBeGreaterThanOrEqual(0.0015);
    expect(DELAY / RATE).toBeLessThanOrEqual(0.002);
  });

  test("it is down when a peak comes, both sides alike, without a jump in its gain", () => {
    const left = Float32Array.from({ length: 4000 }, (_, frame) => (frame === 2000 ? 2 : 0.1));
    const made = through(new Limiter(RATE), left, constant(4000, -0.05));
    expect(loudest(made.left)).toBeLessThanOrEqual(CEILING + 1e-6);
    expect(made.left[2000]).toBeGreaterThan(0.9 * CEILING);
    const gains = Array.from(made.right, (sample) => sample / -0.05);
    for (let frame = 1; frame < 4000; frame++) expect(Math.abs(gains[frame]! - gains[frame - 1]!)).toBeLessThan(0.012);
    expect(gains[2000]).toBeCloseTo(made.left[2000]! / 2, 5);
    expect(made.right[1800]).toBe(Math.fround(-0.05));
  });

  test("however its sound is cut into blocks, it makes the same of it", () => {
    const random = seededRandom(5);
    // Quiet and loud by turns, at any place in a block.
    const side = () =>
      Float32Array.from({ length: 40_000 }, (_, frame) => (random() - 0.5) * (frame % 9000 < 5500 ? 0.3 : 4));
    const [left, right] = [side(), side()];
    const inBlocks = (frames: number) => {
      const limiter = new Limiter(RATE);
      const [a, b] = [left.slice(), right.slice()];
      let worked = 0;
      for (let from = 0; from < a.length; from += frames)
        if (limiter.process(a.subarray(from, from + frames), b.subarray(from, from + frames))) worked++;
      return { a, b, worked: worked > 0 };
    };
    const one = inBlocks(1);
    expect(one.worked).toBe(true);
    for (const frames of [128, 100, 13, 4096]) expect(inBlocks(frames)).toEqual(one);
  });

  test("lets go with a time constant of 70 ms, and then changes no bit again", () => {
    const burst = (length: number) => Float32Array.from({ length }, (_, frame) => (frame === 100 ? 2 : 0.25));
    const { left } = through(new Limiter(RATE), burst(3 * RATE));
    const gainAt = (seconds: number) => left[100 + Math.round((0.002 + seconds) * RATE)]! / 0.25;
    const [early, late] = [1 - gainAt(0.01), 1 - gainAt(0.08)];
    expect(late / early).toBeCloseTo(1 / Math.E, 2);
    expect(left.at(-1)).toBe(0.25);
  });
});

describe("the mixer", () => {
  /** What a mixer makes of one long sound that something ends at frame 1000. */
  const ended = (end: (mixer: Mixer) => void, group = 0, lane = 3) => {
    const mixer = new Mixer(RATE);
    startVoice(mixer, constant(20_000, 1), 0.5, 0.25, 0, BUS, group, lane);
    const [left, right] = [constant(10_000, 0), constant(10_000, 0)];
    mixer.addTo(left.subarray(0, 1000), right.subarray(0, 1000), 0);
    end(mixer);
    mixer.addTo(left.subarray(1000), right.subarray(1000), 1000);
    return { left, right };
  };
  const lastSound = (samples: Float32Array) => samples.findLastIndex((sample) => sample !== 0);

  test("left is left and right is right", () => {
    const { left, right } = ended(() => {});
    expect([left[500], right[500], left[9999]]).toEqual([0.5, 0.25, 0.5]);
  });

  test.each([
    // A hat that chokes the other one, in 25 ms; a drum that is grabbed, in 40 ms.
    ["choked by its group", (mixer: Mixer) => startVoice(mixer, new Float32Array(1), 0, 0, 1000, BUS, 1), 0.025],
    ["grabbed", (mixer: Mixer) => mixer.chokeLane(BUS, 3, 1000), 0.04],
  ] as const)("%s it fades in a straight line", (_, end, seconds) => {
    const { left } = ended(end, 1);
    expect(left[999]).toBe(0.5);
    expect(left[1000 + Math.round((seconds * RATE) / 2)]).toBeCloseTo(0.25, 3);
    expect(Math.abs(lastSound(left) - (999 + seconds * RATE))).toBeLessThanOrEqual(1);
  });

  test("of sixty-four voices the oldest gives way in 4 ms, and sounds of other groups and drums stay", () => {
    const { left } = ended((mixer) => {
      for (let voice = 0; voice < 63; voice++) startVoice(mixer, new Float32Array(20_000), 0, 0, 1000, BUS);
    });
    expect(left[9999]).toBe(0.5);
    const { left: stolen } = ended((mixer) => {
      for (let voice = 0; voice < 64; voice++) startVoice(mixer, new Float32Array(20_000), 0, 0, 1000, BUS);
    });
    expect(Math.abs(lastSound(stolen) - (999 + 0.004 * RATE))).toBeLessThanOrEqual(1);
    for (const other of [
      (mixer: Mixer) => mixer.chokeLane(BUS, 4, 1000),
      (mixer: Mixer) => startVoice(mixer, new Float32Array(1), 0, 0, 1000, BUS, 2),
    ])
      expect(ended(other, 1).left[9999]).toBe(0.5);
  });

  test("cut off after so many frames it fades in 40 ms from there; a stroke of the same group at the same frame chokes nothing", () => {
    const mixer = new Mixer(RATE);
    startVoice(mixer, constant(20_000, 1), 1, 1, 100, BUS, 1, 0, 500);
    startVoice(mixer, constant(20_000, 1), 1, 1, 100, BUS, 1);
    const [left, right] = [constant(10_000, 0), constant(10_000, 0)];
    mixer.addTo(left, right, 0);
    expect([left[99], left[100], left[599], left[100 + 500 + Math.round(0.02 * RATE)]]).toEqual([
      0,
      2,
      2,
      expect.closeTo(1.5, 3),
    ]);
    expect(loudest(left.subarray(100 + 500 + Math.round(0.04 * RATE) + 1))).toBe(1);
  });
});
