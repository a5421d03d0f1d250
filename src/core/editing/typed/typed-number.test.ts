import { typedNumber } from "./typed-number";

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
