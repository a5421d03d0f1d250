import { resolve } from "node:path";
import { addHits, addPass, findPattern } from "@/core/beat/edit";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { asTicks } from "@/core/time/ticks";
import { barProblem } from "../support/bars";
import { coreFiles, evaluate, examplesIn, functionsIn } from "../support/core-examples";

const files = coreFiles();

/** Two bars of 4/4 at 120 BPM with eight eighths of hats in their one pass: what examples call `beat`, `part`, `ids` and the like. */
function scopeOfExamples() {
  const empty = newBeat({ id: "tide-table", name: "Tide Table", bpm: 120 });
  const patternRef = firstPlace(empty);
  const pass = { name: "Pass 1", muted: false, quantize: empty.inputQuantize };
  const { beat: open, passId } = addPass(empty, patternRef, pass);
  const eighths = Array.from({ length: 8 }, (_, index) => ({
    lane: 8,
    played: { ticks: asTicks(480 * index + 7), velocity: 90 },
    lengthTicks: asTicks(60),
  }));
  const beat = addHits(open, patternRef, passId, eighths);
  const [part] = beat.parts;
  const pattern = findPattern(beat, patternRef);
  const ids = new Set(pattern.passes[0]!.hits.map(({ id }) => id));
  const frame = { meter: beat.meter, bpm: beat.bpm, bars: pattern.bars };
  return { beat, patternRef, passId, part, pattern, meter: beat.meter, ids, frame };
}

/** All that the core exports; where two modules have one name, an example means its own. */
const exported: Record<string, unknown> = Object.assign(
  {},
  ...files.map((file) => jest.requireActual<Record<string, unknown>>(resolve(file))),
);
const scope = { ...exported, ...scopeOfExamples() };

/** Numbers of a result are as exact as they are written. */
function rounded(value: unknown): unknown {
  if (typeof value === "number") return Number.isFinite(value) ? Number(value.toFixed(9)) : value;
  if (ArrayBuffer.isView(value)) return Array.from(value as Float64Array, rounded);
  if (value instanceof Map || value instanceof Set) return [...value].map(rounded);
  if (Array.isArray(value)) return value.map(rounded);
  if (value !== null && typeof value === "object")
    return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, rounded(one)]));
  return value;
}

test.each(files.filter((file) => examplesIn(file).length > 0))("examples in %s come to what they say", (file) => {
  const own = jest.requireActual<Record<string, unknown>>(resolve(file));
  const wrong = examplesIn(file).flatMap(({ expression, result }) => {
    const value = evaluate(expression, { ...scope, ...own });
    const about = /^about (-?[\d.]+)$/.exec(result)?.[1];
    const said = about ? Number(about) : rounded(evaluate(result, scope));
    const found = about
      ? Number((value as number).toPrecision(about.replace(/[-.]|^0\./g, "").length))
      : rounded(value);
    return JSON.stringify(found) === JSON.stringify(said) ? [] : [{ expression, said, found }];
  });
  expect(wrong).toEqual([]);
});

test("no more functions of the core are without an example than there were", () => {
  const without = files.flatMap(functionsIn).filter(({ hasExample }) => !hasExample);
  expect(barProblem("functions of the core without an example", without.length)).toBeUndefined();
});
