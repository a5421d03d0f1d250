import { barLineEvidence, type BarStroke } from "./bar-evidence";
import type { DrumRole } from "./meter-profile";

const FOUR = { beats: 4, unit: 4 } as const;
/** Sixteen steps a bar. */
const PER_QUARTER = 4;

function evidenceOf(bars: number, parts: Partial<Record<DrumRole, readonly number[]>>): readonly number[] {
  const roles = Object.keys(parts) as DrumRole[];
  const struck = roles
    .flatMap((role, drum) =>
      Array.from({ length: bars }, (_, bar) => parts[role]!.map((step) => ({ drum, role, step: 16 * bar + step }))),
    )
    .flat()
    .sort((a, b) => a.step - b.step);
  const strokes = struck.map(({ drum, role }): BarStroke => ({ drum, role, weight: 1, accent: 0 }));
  const played = { strokes, steps: struck.map(({ step }) => step), perQuarter: PER_QUARTER, roles };
  return barLineEvidence(played, FOUR, 16, strokes.length);
}

const best = (evidence: readonly number[]) => evidence.indexOf(Math.max(...evidence));

test("a kick on every downbeat and snares behind it say where the bar begins, wherever the playing does", () => {
  for (const start of [0, 4, 8, 12]) {
    const at = (steps: readonly number[]) => steps.map((step) => (step + start) % 16);
    expect(best(evidenceOf(4, { kick: at([0]), snare: at([4, 12]) }))).toBe(start);
  }
});

test("what is in every bar speaks more than what is in some, however long it is played", () => {
  const every = evidenceOf(8, { kick: [0], snare: [4, 12], hat: [0, 4, 8, 12] });
  const few = evidenceOf(2, { kick: [0], snare: [4, 12], hat: [0, 4, 8, 12] });
  // The share of bars counts, not how many there are.
  expect((every[0]! - every[8]!) / (few[0]! - few[8]!)).toBeLessThan(2.5);
  expect(best(every)).toBe(0);
  expect(best(few)).toBe(0);
});

test("toms in the beat before a bar line speak for it", () => {
  const plain = evidenceOf(2, { kick: [0, 8], hat: [0, 4, 8, 12] });
  const filled = evidenceOf(2, { kick: [0, 8], hat: [0, 4, 8, 12], tom: [12, 13, 14, 15] });
  expect(filled[0]! - filled[8]!).toBeGreaterThan(plain[0]! - plain[8]!);
});
