import { numberProblem, typedNumber } from "./typed-number";

test.each([
  ["120", undefined, 120],
  [" 1,5 ", undefined, 1.5],
  ["−3", undefined, -3],
  ["-3", undefined, -3],
  ["+.5", undefined, 0.5],
  ["-0", undefined, 0],
  ["12 ms", "ms", 12],
  ["12ms", "dB", undefined],
  ["80%", "%", 80],
  ["1e9", undefined, undefined],
  ["1.000,5", undefined, undefined],
  ["", undefined, undefined],
  ["--3", undefined, undefined],
])("%j in %s is %s", (typed, unit, value) => expect(typedNumber(typed, unit)).toBe(value));

test("what is not taken says why", () => {
  const tempo = { min: 20, max: 400, unit: "BPM" };
  expect(numberProblem("Tempo", "1,5", 1.5, tempo)).toBe("Tempo goes from 20 to 400 BPM; “1,5” was not taken.");
  expect(numberProblem("Tempo", "1e9", undefined, tempo)).toBe("“1e9” is no number; Tempo stays as it was.");
  expect(numberProblem("Tempo", "400", 400, tempo)).toBeUndefined();
});
