import type { Instrument, Lane } from "../../beat/beat";
import { lanesOf } from "../../beat/lanes";
import { CoreError } from "../../core-error";

const NOTE = /^([A-G])([#♯b♭]?)(-?\d)$/i;
const STEPS: Readonly<Record<string, number>> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/**
 * Reads a lane: the name of a pad, or as much of it as no other one begins with; a note by its name (middle C is C4) or its
 * MIDI number.
 * @example parseLane("sn", part) // 1
 * @throws CoreError "bad-value"
 */
export function parseLane(typed: string, part: Instrument): Lane {
  const text = typed.trim();
  const lanes = lanesOf(part);
  const named = (test: (name: string) => boolean) => lanes.filter(({ name }) => test(name.toLowerCase()));
  const wanted = text.toLowerCase();
  const exact = named((name) => name === wanted);
  if (exact[0]) return exact[0].id;
  const note = part.kind === "tonal" ? noteOf(text) : undefined;
  if (note !== undefined && lanes.some(({ id }) => id === note)) return note;
  const begun = wanted === "" || part.kind === "tonal" ? [] : named((name) => name.startsWith(wanted));
  if (begun.length === 1) return begun[0]!.id;
  if (begun.length > 1)
    throw new CoreError("bad-value", `“${text}” may be ${begun.map(({ name }) => name).join(" or ")}.`);
  throw new CoreError(
    "bad-value",
    `“${text}” is no ${part.kind === "kit" ? "pad of this kit" : "note; type C4, or 60"}.`,
  );
}

function noteOf(text: string): number | undefined {
  if (/^\d{1,3}$/.test(text)) return Number(text);
  const [, letter, sign, octave] = NOTE.exec(text) ?? [];
  if (!letter) return undefined;
  const by = sign === "" ? 0 : sign === "#" || sign === "♯" ? 1 : -1;
  return 12 * (Number(octave) + 1) + STEPS[letter.toUpperCase()]! + by;
}
