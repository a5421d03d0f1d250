import { CoreError } from "../core-error";
import type { FreeHit } from "../recover/readings";
import type { Meter } from "../time/meter";
import { meter as toMeter } from "../time/meter";
import { MAX_HITS } from "./limits";
import { parseJson } from "./parse-json";

/** Something that was played without a click, to be worked out. */
export interface FreePlaying {
  readonly id: string;
  /** Ascending in time. */
  readonly hits: readonly FreeHit[];
  readonly meter: Meter | undefined;
}

/**
 * Reads `[{ id, hits: [{ time (s), note (General MIDI), velocity }], meter: [n, d] or absent }]`; other fields are passed
 * over.
 * @throws CoreError "bad-echoes" with what is wrong and where, "too-large" over 100,000 hits, "bad-meter"
 */
export function readFreePlayings(text: string): readonly FreePlaying[] {
  const data = parseJson(text, "bad-echoes", "list of echoes");
  if (!Array.isArray(data)) refuse("the file", "must be an array");
  let count = 0;
  return data.map((entry: unknown, index) => {
    const where = `/${index}`;
    const { id, hits, meter } = objectAt(entry, where);
    if (typeof id !== "string" && typeof id !== "number") refuse(`${where}/id`, "must be a text");
    if (!Array.isArray(hits)) refuse(`${where}/hits`, "must be an array");
    count += hits.length;
    if (count > MAX_HITS) throw new CoreError("too-large", `These echoes have more than ${MAX_HITS} hits, the most.`);
    return {
      id: String(id),
      hits: hits.map((hit, at) => readHit(hit, `${where}/hits/${at}`)).sort((a, b) => a.time - b.time),
      meter: meter === undefined || meter === null ? undefined : readMeter(meter, `${where}/meter`),
    };
  });
}

function readHit(value: unknown, where: string): FreeHit {
  const { time, note, velocity } = objectAt(value, where);
  if (typeof time !== "number" || !Number.isFinite(time)) refuse(`${where}/time`, "must be seconds");
  return { time, note: whole(note, 0, `${where}/note`), velocity: whole(velocity, 1, `${where}/velocity`) };
}

function whole(value: unknown, low: number, where: string): number {
  if (!Number.isInteger(value) || (value as number) < low || (value as number) > 127)
    refuse(where, `must be a whole number from ${low} to 127`);
  return value as number;
}

function readMeter(value: unknown, where: string): Meter {
  if (!Array.isArray(value) || value.length !== 2) refuse(where, "must be [beats, unit]");
  return toMeter(value[0] as number, value[1] as number);
}

function objectAt(value: unknown, where: string): Record<string, unknown> {
  if (typeof value !== "object" || value === null) refuse(where, "must be an object");
  return value as Record<string, unknown>;
}

function refuse(where: string, what: string): never {
  throw new CoreError("bad-echoes", `These echoes can't be read: ${where} ${what}.`);
}
