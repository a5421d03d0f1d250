import { plainName } from "./plain-name";

test.each([
  ["  Tide Table ", "Tide Table"],
  ["\u200b", ""],
  [" \u00a0\u3000 ", ""],
  ["\u200d\u200c", ""],
  ["Tide\u202egnp.exe", "Tidegnp.exe"],
  ["a\nb\u0000c", "abc"],
  ["می\u200cخواهم", "می\u200cخواهم"],
  ["x".repeat(200), "x".repeat(120)],
])("%j is called %j", (typed, name) => expect(plainName(typed)).toBe(name));
