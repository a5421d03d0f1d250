import { LoudnessMeter } from "./loudness";

/** A tone on both sides, or one, in blocks as the audio thread has them. @param frequency whole, so that seconds repeat */
function tone(meter: LoudnessMeter, sampleRate: number, frequency: number, seconds: number, peakDb: number, sides = 2) {
  const amplitude = Math.pow(10, peakDb / 20);
  const second = Float32Array.from(
    { length: sampleRate },
    (_, index) => amplitude * Math.sin((2 * Math.PI * frequency * index) / sampleRate),
  );
  const silent = new Float32Array(sampleRate);
  for (let left = Math.round(seconds * sampleRate); left > 0; left -= sampleRate)
    for (let from = 0; from < Math.min(left, sampleRate); from += 128) {
      const to = Math.min(from + 128, left, sampleRate);
      meter.add(second.subarray(from, to), (sides === 2 ? second : silent).subarray(from, to));
    }
}

/** EBU Tech 3341, Table 1, cases 1 to 5 (from memory): each within 0.1 LU of what is wanted. */
test.each([
  ["case 1", [[-23, 20]], -23],
  ["case 2", [[-33, 20]], -33],
  [
    "case 3",
    [
      [-36, 10],
      [-23, 60],
      [-36, 10],
    ],
    -23,
  ],
  [
    "case 4",
    [
      [-72, 10],
      [-36, 10],
      [-23, 60],
      [-36, 10],
      [-72, 10],
    ],
    -23,
  ],
  [
    "case 5",
    [
      [-26, 20],
      [-20, 20.1],
      [-26, 20],
    ],
    -23,
  ],
] as const)("EBU Tech 3341 %s", (_, stretches, wanted) => {
  const meter = new LoudnessMeter(48_000);
  for (const [peakDb, seconds] of stretches) tone(meter, 48_000, 1000, seconds, peakDb);
  expect(Math.abs(meter.integrated - wanted)).toBeLessThan(0.1);
});

/** ITU-R BS.1770-4 (from memory): a full tone of 997 Hz on one side is -3.01 LKFS. Others: two independent programs agreed. */
test.each([
  [48_000, 997, 0, 1, -3.01],
  [44_100, 997, 0, 1, -3.01],
  [96_000, 997, 0, 1, -3.01],
  [48_000, 100, -23, 2, -24.825],
  [48_000, 10_000, -23, 2, -19.649],
  [44_100, 1000, -23, 2, -22.991],
])(
  "at %i Hz a tone of %i Hz and %i dBFS on %i sides is %f LUFS, at the moment and over all",
  (...[rate, hz, db, sides, wanted]) => {
    const meter = new LoudnessMeter(rate);
    tone(meter, rate, hz, 3, db, sides);
    expect(meter.momentary).toBeCloseTo(wanted, 1);
    expect(Math.abs(meter.integrated - wanted)).toBeLessThan(0.02);
  },
);

test("silence is none, a reset begins anew, and the moment goes on over it", () => {
  const meter = new LoudnessMeter(48_000);
  expect([meter.momentary, meter.integrated]).toEqual([-Infinity, -Infinity]);
  tone(meter, 48_000, 1000, 0.39, -10);
  expect(meter.momentary).toBe(-Infinity);
  tone(meter, 48_000, 1000, 1, -10);
  meter.reset();
  expect(meter.integrated).toBe(-Infinity);
  expect(meter.momentary).toBeCloseTo(-10, 1);
  tone(meter, 48_000, 1000, 1, -30);
  expect(Math.abs(meter.momentary + 30)).toBeLessThan(0.1);
});

test("measured anew, what was loud before counts for nothing, not even where it reaches into the first block", () => {
  const meter = new LoudnessMeter(48_000);
  tone(meter, 48_000, 1000, 2.03, -1);
  meter.reset();
  tone(meter, 48_000, 1000, 5, -26);
  expect(Math.abs(meter.integrated + 26)).toBeLessThan(0.1);
});
