import { readFileSync } from "node:fs";
import { usLabel } from "@/inputs/key-labels";
import { PAD_KEYS } from "@/inputs/computer-keys";
import { STEP_KEYS } from "@/ui/workspace/hit-keys";
import { KEYMAP, keyShortcuts, keysInWords, bindingOf } from "@/ui/workspace/keymap";

test("the README has every key that the app has, in the app's words", () => {
  const readme = readFileSync("README.md", "utf8");
  const rows = [...readme.matchAll(/^\| (\S.*?) +\| (.*?) +\|$/gm)].map(
    ([, keys, description]) => `${keys}: ${description}`,
  );
  const told = KEYMAP.filter(({ description }) => description !== "").map(
    (one) => `${keysInWords(one, usLabel)}: ${one.description}`,
  );
  expect(rows.filter((row) => !row.startsWith("key:") && !row.startsWith("---"))).toEqual(told);
});

test("no key means two things at once", () => {
  const pressed = (shift: boolean, control: boolean, alt: boolean) =>
    KEYMAP.filter(({ run, command }) => run ?? command)
      .filter(
        (one) => (one.shift ?? shift) === shift && (one.control ?? false) === control && (one.alt ?? false) === alt,
      )
      .flatMap(({ codes }) => codes);
  for (const [shift, control, alt] of [
    [false, false, false],
    [true, false, false],
    [false, true, false],
    [true, true, false],
    [false, false, true],
    [true, false, true],
  ]) {
    const codes = pressed(shift!, control!, alt!);
    // Shift Space hears an echo where one is open, and else plays; Shift with a place is one of the second eight. Step input
    // has arrows and Backspace to itself.
    const stepping = STEP_KEYS.flatMap((one) => (alt || control ? [] : one.codes));
    const meant = new Set([
      ...stepping,
      "Space",
      "Period",
      "End",
      "PageUp",
      "PageDown",
      ...codes.filter((code) => /^Digit[1-8]$/.test(code)),
    ]);
    const twice = codes.filter((code, index) => codes.indexOf(code) !== index && !meant.has(code));
    expect([shift, control, twice]).toEqual([shift, control, []]);
    expect(codes.filter((code) => (PAD_KEYS as readonly string[]).includes(code) && !control)).toEqual([]);
  }
});

test("keys are told in words, and to assistive technology, by what is printed on the player's keyboard", () => {
  const azerty = (code: string) => ({ KeyQ: "A", KeyW: "Z", Semicolon: "M" })[code] ?? usLabel(code);
  expect(keysInWords(bindingOf("zoom"), usLabel)).toBe("Shift ↑ ↓");
  expect(keysInWords(bindingOf("rates"), azerty)).toBe("A … I");
  expect(keysInWords(bindingOf("return"), azerty)).toBe("Shift M");
  expect(keysInWords(bindingOf("undo"), usLabel)).toBe("Ctrl Z");
  expect(keyShortcuts(bindingOf("zoom"), usLabel)).toBe("Shift+ArrowUp Shift+ArrowDown");
  expect(keyShortcuts(bindingOf("pickUp"), usLabel)).toBe("Shift+End");
  expect(keysInWords(bindingOf("part"), usLabel)).toBe("Alt 1 … 8");
  expect(keyShortcuts(bindingOf("fold"), usLabel)).toBe("Alt+Home");
  expect(() => bindingOf("nothing")).toThrow('There is no key for "nothing".');
});
