import { RATE, startVoice } from "../../../tests/support/player-probe";
import { fromDb, loudest } from "./dsp";
import { Limiter } from "./limiter";
import { Bus, Mixer } from "./mixer";

const BUS = new Bus();

const constant = (length: number, value: number) => new Float32Array(length).fill(value);

describe("the limiter", () => {
  test("turns a peak down to -0.3 dBFS at once, on both sides alike", () => {
    const left = constant(1, 2);
    const right = constant(1, -0.5);
    expect(new Limiter(RATE).process(left, right)).toBe(true);
    expect(left[0]).toBeCloseTo(fromDb(-0.3), 6);
    expect(right[0]).toBeCloseTo(-0.25 * fromDb(-0.3), 6);
  });

  test("lets go with a time constant of 120 ms, and then changes no bit again", () => {
    const limiter = new Limiter(RATE);
    limiter.process(constant(1, 2), constant(1, 2));
    const held = 1 - fromDb(-0.3) / 2;
    const gainAfter = (seconds: number) => {
      const left = constant(Math.round(seconds * RATE), 0.25);
      expect(limiter.process(left, left.slice())).toBe(false);
      return left.at(-1)! / 0.25;
    };
    expect(1 - gainAfter(0.12)).toBeCloseTo(held / Math.E, 3);
    expect(1 - gainAfter(0.12)).toBeCloseTo(held / Math.E ** 2, 3);
    gainAfter(2);
    const calm = constant(8, 0.9);
    limiter.process(calm, calm.slice());
    expect(calm).toEqual(constant(8, 0.9));
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
