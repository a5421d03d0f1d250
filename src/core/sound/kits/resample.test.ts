import fc from "fast-check";
import { renderSound } from "./render-sounds";
import { resample } from "../signal/resample";
import type { Sound } from "../signal/sound";

const RATE = 48_000;

const sine = (hertz: number, seconds = 0.5) =>
  Float32Array.from(
    { length: Math.round(seconds * RATE) },
    (_, frame) => 0.5 * Math.sin((2 * Math.PI * hertz * frame) / RATE),
  );

/** The middle of a sound, where no end is heard. */
const middle = (samples: Float32Array) => samples.subarray(samples.length >> 2, (3 * samples.length) >> 2);

/** What of a sound is a sine of this frequency, and the root mean square of the rest, by least squares. */
function fit(samples: Float32Array, hertz: number): { readonly level: number; readonly rest: number } {
  let [ss, cc, sc, xs, xc] = [0, 0, 0, 0, 0];
  const angle = (frame: number) => (2 * Math.PI * hertz * frame) / RATE;
  samples.forEach((x, frame) => {
    const [s, c] = [Math.sin(angle(frame)), Math.cos(angle(frame))];
    ss += s * s;
    cc += c * c;
    sc += s * c;
    xs += x * s;
    xc += x * c;
  });
  const det = ss * cc - sc * sc;
  const [a, b] = [(xs * cc - xc * sc) / det, (xc * ss - xs * sc) / det];
  const rest = samples.reduce(
    (sum, x, frame) => sum + (x - a * Math.sin(angle(frame)) - b * Math.cos(angle(frame))) ** 2,
    0,
  );
  return { level: Math.hypot(a, b), rest: Math.sqrt(rest / samples.length) };
}

const ratio = (semitones: number) => 2 ** (semitones / 12);
const db = (amplitude: number) => 20 * Math.log10(amplitude);

test.each([-24, -12, -7, -0.25, 0.03, 5, 12, 24])(
  "%d semitones are right to 3 cents, and bring in nothing above -60 dB",
  (semitones) => {
    for (const hertz of [180, 2000, 5200]) {
      const wanted = hertz * ratio(semitones);
      if (wanted > 20_000) continue;
      // Three cents beside it a sine fits clearly worse.
      const tuned = middle(resample(sine(hertz, 0.4), ratio(semitones)));
      const right = fit(tuned, wanted);
      expect(db(right.level / 0.5)).toBeGreaterThan(-0.1);
      expect(db(right.rest / right.level)).toBeLessThan(-60);
      for (const cents of [-3, 3])
        expect(fit(tuned, wanted * 2 ** (cents / 1200)).rest).toBeGreaterThan(2 * right.rest);
    }
  },
);

test("what would fold back is gone: 9 to 23 kHz two octaves up", () => {
  for (const hertz of [9000, 13_000, 17_500, 23_000]) {
    const loudest = middle(resample(sine(hertz), 4)).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(db(loudest / 0.5)).toBeLessThan(-60);
  }
});

test("by nothing it is the same, and there and back it is the same within the band", () => {
  expect(resample(sine(440), 1)).toEqual(sine(440));
  fc.assert(
    fc.property(fc.double({ min: 0.3, max: 1, noNaN: true }), fc.integer({ min: 50, max: 6000 }), (speed, hertz) => {
      const from = sine(hertz, 0.2);
      const back = resample(resample(from, speed), 1 / Math.fround(speed));
      let worst = 0;
      for (let frame = 2000; frame < 7000; frame++) worst = Math.max(worst, Math.abs(back[frame]! - from[frame]!));
      expect(worst).toBeLessThan(0.004);
    }),
    { numRuns: 10 },
  );
});

test("both sides of a sound are tuned alike", () => {
  const [plain, tuned] = ["deckhouse/closedHat", "deckhouse/closedHat@700"].map((id) => renderSound(id, 44_100));
  const lengths = (layers: Sound["layers"]) => layers.map((variants) => variants.map(({ length }) => length));
  expect(lengths(tuned!.right!)).toEqual(lengths(tuned!.layers));
  expect(tuned!.right![0]![0]!.length / plain!.right![0]![0]!.length).toBeCloseTo(2 ** (-7 / 12), 3);
  expect(tuned!.right![0]![0]!.slice(0, 500)).not.toEqual(tuned!.layers[0]![0]!.slice(0, 500));
});
