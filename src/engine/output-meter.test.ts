import { OutputMeter } from "./output-meter";

const RATE = 48000;
const BLOCK = 128;

/** What reports say that come every ten blocks while a tone goes out, loud until it is turned down over one block. */
function reportsAround(turnedDownAt: number, blocks: number) {
  const meter = new OutputMeter(RATE);
  const reports = [];
  for (let block = 0; block < blocks; block++) {
    const frame = block * BLOCK;
    if (block === turnedDownAt) meter.measure(1, frame);
    meter.begin(frame);
    const tone = Float32Array.from({ length: BLOCK }, (_, index) => {
      const gain = block < turnedDownAt ? 2 : block > turnedDownAt ? 0.25 : 2 - (1.75 * index) / BLOCK;
      return gain * Math.sin((2 * Math.PI * 440 * (frame + index)) / RATE);
    });
    meter.process(tone, tone.slice());
    if (block % 10 === 9) reports.push(meter.take());
  }
  return reports;
}

test("what was turned down just now does not count when it is measured anew", () => {
  const reports = reportsAround(50, 100);
  expect(reports.slice(0, 5).every(({ limited, since }) => limited && since === 0)).toBe(true);
  const anew = reports.filter(({ since }) => since === 1);
  expect(anew.length).toBeGreaterThanOrEqual(4);
  for (const report of anew) expect(report).toMatchObject({ limited: false, overDb: 0 });
  for (const { peakLeft } of anew) expect(peakLeft).toBeLessThan(0.26);
});

test("what is too loud again after that counts at once", () => {
  const meter = new OutputMeter(RATE);
  meter.measure(7, 0);
  const loud = () => new Float32Array(BLOCK).fill(1.5);
  meter.begin(0);
  meter.process(loud(), loud());
  const frame = 0.02 * RATE;
  expect(meter.begin(frame - BLOCK)).toBe(false);
  expect(meter.begin(frame)).toBe(true);
  meter.process(loud(), loud());
  expect(meter.take()).toMatchObject({ limited: true, since: 7 });
});
