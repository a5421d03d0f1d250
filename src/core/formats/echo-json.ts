import { CoreError } from "../core-error";
import { DEFAULT_BARS, DEFAULT_METER, MAX_LOOP_BARS } from "../beat/new-beat";
import { LOOKBACK } from "../recover/echo";
import type { LoopPlaying } from "../recover/fold-laps";
import type { FreeHit } from "../recover/readings/reading";
import type { Meter } from "../time/meter";
import { meter as toMeter } from "../time/meter";
import { TEMPO_RANGE } from "../time/tempo";
import { MAX_ECHOES, MAX_HITS } from "../limits";
import { parseJson } from "./parse-json";

/** Something that was played without a click, to be worked out. */
export interface FreePlaying {
  readonly id: string;
  /** Ascending in time. */
  readonly hits: readonly FreeHit[];
  readonly meter: Meter | undefined;
}

/** No echo lasts longer than what is remembered. */
const MOST_MINUTES = LOOKBACK.ms / 60_000;

/** A clock that began in 1970 is within it. */
const MOST_SECONDS = 1e10;
/** A count-in of four bars of seven quarters, slow. */
const MOST_EARLY_SECONDS = 60;

/** One entry of the list, before its own fields are read. */
interface Entry {
  readonly id: string;
  readonly hits: readonly FreeHit[];
  readonly fields: Readonly<Record<string, unknown>>;
  readonly where: string;
}

/**
 * Reads `[{ id, hits: [{ time (s), note (General MIDI), velocity }], meter: [n, d] or absent }]`; other fields are passed
 * over.
 * @throws CoreError "bad-echoes" with what is wrong and where, "too-large" over 100,000 hits, "bad-meter"
 */
export function readFreePlayings(text: string): readonly FreePlaying[] {
  return readEntries(text).map(({ id, hits, fields, where }) => {
    if (hits.length > 0 && hits.at(-1)!.time - hits[0]!.time > MOST_MINUTES * 60)
      refuse(`${where}/hits`, `must lie within ${MOST_MINUTES} minutes`);
    return { id, hits, meter: readMeter(fields.meter, where) };
  });
}

/**
 * The same with what the loop was: `bpm`, and where they are not the usual `meter` (4/4), `bars` (2) and `start`, the
 * seconds of its first downbeat (0).
 * @throws CoreError as readFreePlayings
 */
export function readLoopPlayings(text: string): readonly LoopPlaying[] {
  return readEntries(text).map(({ id, hits, fields, where }) => {
    const { bpm, bars = DEFAULT_BARS, start = 0 } = fields;
    if (hits.length === 0) refuse(`${where}/hits`, "must have at least one hit");
    return {
      id,
      hits,
      bpm: within(bpm, TEMPO_RANGE.min, TEMPO_RANGE.max, `${where}/bpm`),
      meter: readMeter(fields.meter, where) ?? DEFAULT_METER,
      bars: whole(bars, 1, MAX_LOOP_BARS, `${where}/bars`),
      startSeconds: startOf(start, hits, where),
    };
  });
}

/** Everything was played in the hour from a little before the loop's first downbeat on. */
function startOf(value: unknown, hits: readonly FreeHit[], where: string): number {
  const start = within(value, -MOST_SECONDS, MOST_SECONDS, `${where}/start`);
  const early = hits.findIndex(({ time }) => time < start - MOST_EARLY_SECONDS);
  if (early >= 0)
    refuse(`${where}/hits/${early}/time`, `lies more than ${MOST_EARLY_SECONDS} s before the loop's start`);
  const last = hits.at(-1)!.time;
  if (last > start + MOST_MINUTES * 60)
    refuse(`${where}/hits`, `must lie within ${MOST_MINUTES} minutes from the loop's start`);
  return start;
}

function readEntries(text: string): readonly Entry[] {
  const data = parseJson(text, "bad-echoes", "list of echoes");
  if (!Array.isArray(data)) refuse("the file", "must be an array");
  if (data.length > MAX_ECHOES)
    throw new CoreError("too-large", `This list has ${data.length} echoes; ${MAX_ECHOES} are the most.`);
  let count = 0;
  return data.map((entry: unknown, index) => {
    const where = `/${index}`;
    const fields = objectAt(entry, where);
    const { id, hits } = fields;
    if (typeof id !== "string" && typeof id !== "number") refuse(`${where}/id`, "must be a text");
    if (!Array.isArray(hits)) refuse(`${where}/hits`, "must be an array");
    count += hits.length;
    if (count > MAX_HITS) throw new CoreError("too-large", `These echoes have more than ${MAX_HITS} hits, the most.`);
    const read = hits.map((hit, at) => readHit(hit, `${where}/hits/${at}`));
    return { id: String(id), hits: read.sort((a, b) => a.time - b.time), fields, where };
  });
}

function readHit(value: unknown, where: string): FreeHit {
  const { time, note, velocity } = objectAt(value, where);
  within(time, -MOST_SECONDS, MOST_SECONDS, `${where}/time`);
  return {
    time: time as number,
    note: whole(note, 0, 127, `${where}/note`),
    velocity: whole(velocity, 1, 127, `${where}/velocity`),
  };
}

function whole(value: unknown, low: number, high: number, where: string): number {
  if (!Number.isInteger(value) || (value as number) < low || (value as number) > high)
    refuse(where, `must be a whole number from ${low} to ${high}`);
  return value as number;
}

function within(value: unknown, low: number, high: number, where: string): number {
  if (typeof value !== "number" || !(value >= low && value <= high))
    refuse(where, `must be a number from ${low} to ${high}`);
  return value;
}

function readMeter(value: unknown, where: string): Meter | undefined {
  if (value === undefined || value === null) return undefined;
  if (!Array.isArray(value) || value.length !== 2) refuse(`${where}/meter`, "must be [beats, unit]");
  return toMeter(value[0] as number, value[1] as number);
}

function objectAt(value: unknown, where: string): Record<string, unknown> {
  if (typeof value !== "object" || value === null) refuse(where, "must be an object");
  return value as Record<string, unknown>;
}

function refuse(where: string, what: string): never {
  throw new CoreError("bad-echoes", `These echoes can't be read: ${where} ${what}.`);
}
