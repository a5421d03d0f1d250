import type { Beat } from "@/core/beat/beat";

/** @example freeName("Tide 2", ["Tide", "Tide 2"]) // "Tide 3" */
export function freeName(wanted: string, taken: readonly string[]): string {
  const base = wanted.replace(/ \d+$/, "");
  const names = new Set(taken);
  if (!names.has(base)) return base;
  let number = 2;
  while (names.has(`${base} ${number}`)) number++;
  return `${base} ${number}`;
}

/** A beat under another id, with a name that is free. */
export function renamed(beat: Beat, id: string, taken: readonly string[]): Beat {
  return { ...beat, id, name: freeName(beat.name, taken) };
}
