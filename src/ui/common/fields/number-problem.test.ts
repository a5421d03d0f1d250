import { numberProblem } from "./number-problem";

test("what is not taken says why", () => {
  const tempo = { min: 20, max: 400, unit: "BPM" };
  expect(numberProblem("Tempo", "1,5", 1.5, tempo)).toBe("Tempo goes from 20 to 400 BPM; “1,5” was not taken.");
  expect(numberProblem("Tempo", "1e9", undefined, tempo)).toBe("“1e9” is no number; Tempo stays as it was.");
  expect(numberProblem("Tempo", "400", 400, tempo)).toBeUndefined();
});
