import { CoreError } from "../../core-error";
import { GRID_TICKS, type LineGridName } from "../../time/grid";
import { barTicks, beatTicks, type Meter } from "../../time/meter";
import { fromPosition } from "../../time/position";
import { secondsToTicks, type Bpm } from "../../time/tempo";
import { asTicks, asSeconds, type Ticks } from "../../time/ticks";

/** What typed entries are about. */
export interface EntryFrame {
  readonly meter: Meter;
  readonly bpm: Bpm;
  /** Of the loop. */
  readonly bars: number;
}

/** A typed place: at a place as it is heard, or so much further, as it is heard or on the straight grid. */
export interface TypedPlace {
  readonly kind: "at" | "heardBy" | "straightBy";
  readonly ticks: number;
}

const SIGNED = /^([+-])\s*(.+)$/;
const POSITION = /^(\d+)(?:\s*[.:,\s]\s*(\d+))?(?:\s*[.:,\s]\s*(\d+(?:\.\d+)?))?$/;
const MILLISECONDS = /^(\d+(?:[.,]\d+)?)\s*ms$/i;
const TICKS = /^(\d+(?:[.,]\d+)?)\s*(?:t|ticks?)$/i;
const BEATS = /^(\d+)\s*(?:b|beats?)$/i;
const VALUE = /^(?:(\d+)\s*[x*]\s*)?(1\/\d+)\s*([TDQ]?)$/i;

/**
 * Reads where a hit is to go: bar, bar.beat or bar.beat.tick, from 1.1.0 on; with a sign so many ms, ticks, beats or note
 * values further; or both together.
 * @example parsePlace("2.3.480", frame) // { kind: "at", ticks: 6240 }
 * @example parsePlace("-1/16", frame) // { kind: "straightBy", ticks: -240 }
 * @throws CoreError "bad-value" with what is wrong and what can be typed
 */
export function parsePlace(typed: string, frame: EntryFrame): TypedPlace {
  const text = typed.trim();
  const signed = SIGNED.exec(text);
  if (signed) return further(signed[1]!, signed[2]!, text, frame);
  const [, at = "", sign, by = ""] = /^([^+-]+?)\s*(?:([+-])\s*(.+))?$/.exec(text) ?? [];
  const ticks = position(at.trim(), text, frame);
  return { kind: "at", ticks: sign ? ticks + further(sign, by, text, frame).ticks : ticks };
}

function position(at: string, typed: string, { meter, bars }: EntryFrame): number {
  const found = POSITION.exec(at);
  if (!found) throw refused(`“${typed}” is no place. Type bar.beat.tick, such as 2.3.480, or +10ms, or -1/16.`);
  const [bar, beat, tick] = [Number(found[1]), Number(found[2] ?? 1), Number(found[3] ?? 0)];
  if (bar < 1 || bar > bars) throw refused(`Bar ${bar} is not in this loop, which has bars 1 to ${bars}.`);
  if (beat < 1 || beat > meter.beats)
    throw refused(`Beat ${beat} is not in this bar, which has beats 1 to ${meter.beats}.`);
  const most = beatTicks(meter);
  if (tick >= most) throw refused(`Tick ${tick} is not in this beat, which has ticks 0 to ${most - 1}.`);
  return fromPosition({ bar, beat, tick }, meter);
}

function further(sign: string, by: string, typed: string, frame: EntryFrame): TypedPlace {
  const factor = sign === "-" ? -1 : 1;
  const straight = noteValue(by) ?? beats(by, frame);
  const ticks = straight ?? span(by, frame);
  if (ticks === undefined)
    throw refused(`“${typed}” is no distance. Type +10ms, -5t for ticks, +1b for beats, or -1/16.`);
  if (Math.abs(ticks) > frame.bars * barTicks(frame.meter)) throw refused(`“${typed}” is more than the whole loop.`);
  return { kind: straight === undefined ? "heardBy" : "straightBy", ticks: factor * ticks };
}

/**
 * Reads how long a hit is to be: a note value, ms, ticks or beats; with a sign so much longer or shorter.
 * @param now in ticks @returns in ticks, above 0
 * @example parseLength("1/8T", 60, frame) // 320
 * @throws CoreError "bad-value"
 */
export function parseLength(typed: string, now: number, frame: EntryFrame): Ticks {
  const text = typed.trim();
  const [, sign = "", by = ""] = /^([+-]?)\s*(.*)$/.exec(text)!;
  const ticks = noteValue(by) ?? beats(by, frame) ?? span(by, frame) ?? plain(by);
  if (ticks === undefined) throw refused(`“${text}” is no length. Type a note value such as 1/16, 120ms, or ticks.`);
  const long = sign === "" ? ticks : now + (sign === "-" ? -1 : 1) * ticks;
  if (long <= 0)
    throw refused(`A hit is longer than nothing; “${text}” leaves ${Math.round(long)} ticks of ${Math.round(now)}.`);
  return asTicks(long);
}

/**
 * Reads how hard a hit is to be: 1 to 127, so much more or less, or a share of what it is now.
 * @example parseVelocity("80%", 100) // 80
 * @throws CoreError "bad-value"
 */
export function parseVelocity(typed: string, now: number): number {
  const text = typed.trim();
  const [, sign = "", figure, percent] = /^([+-]?)\s*(\d+(?:[.,]\d+)?)\s*(%?)$/.exec(text) ?? [];
  if (figure === undefined) throw refused(`“${text}” is no velocity. Type 1 to 127, +10, or 80%.`);
  const by = percent ? (now * decimal(figure)) / 100 : decimal(figure);
  const velocity = Math.round(sign === "" ? by : now + (sign === "-" ? -by : by));
  if (velocity < 1 || velocity > 127) throw refused(`Velocities are 1 to 127; “${text}” makes ${velocity}.`);
  return velocity;
}

/**
 * Reads how late a hit is to be: ms, below 0 for early.
 * @example parseOffset("8 early") // -8
 * @throws CoreError "bad-value"
 */
export function parseOffset(typed: string): number {
  const text = typed.trim();
  const [, sign, figure, word] = /^([+-]?)\s*(\d+(?:[.,]\d+)?)\s*(?:ms)?\s*(early|late)?$/i.exec(text) ?? [];
  if (figure === undefined || (sign === "-" && word))
    throw refused(`“${text}” is no time. Type 12 for 12 ms late, -8 for 8 ms early.`);
  return sign === "-" || word?.toLowerCase() === "early" ? -decimal(figure) : decimal(figure);
}

/**
 * Reads velocities that go from line to line, again and again; - leaves the hits of a line as they are.
 * @example parseAccents("110 70 - 70") // [110, 70, undefined, 70]
 * @throws CoreError "bad-value"
 */
export function parseAccents(typed: string): readonly (number | undefined)[] {
  const steps = typed.trim().split(/[\s,]+/);
  const wrong = steps.find(
    (step) => step !== "-" && !(/^\d{1,3}$/.test(step) && Number(step) >= 1 && Number(step) <= 127),
  );
  if (wrong !== undefined)
    throw refused(`“${wrong}” is no accent. Type velocities of 1 to 127 with blanks between, such as 110 70 90 70.`);
  return steps.map((step) => (step === "-" ? undefined : Number(step)));
}

function noteValue(text: string): number | undefined {
  const [, times = "1", value, kind = ""] = VALUE.exec(text.trim()) ?? [];
  const grid = `${value}${kind.toUpperCase()}`;
  return grid in GRID_TICKS ? Number(times) * GRID_TICKS[grid as LineGridName] : undefined;
}

function beats(text: string, { meter }: EntryFrame): number | undefined {
  const found = BEATS.exec(text.trim());
  return found ? Number(found[1]) * beatTicks(meter) : undefined;
}

/** Milliseconds or ticks. */
function span(text: string, { bpm }: EntryFrame): number | undefined {
  const ms = MILLISECONDS.exec(text.trim());
  if (ms) return secondsToTicks(asSeconds(decimal(ms[1]!) / 1000), bpm);
  const ticks = TICKS.exec(text.trim());
  return ticks ? decimal(ticks[1]!) : undefined;
}

function plain(text: string): number | undefined {
  return /^\d+(?:[.,]\d+)?$/.test(text.trim()) ? decimal(text.trim()) : undefined;
}

/** Some write a comma. */
function decimal(figure: string): number {
  return Number(figure.replace(",", "."));
}

function refused(message: string): CoreError {
  return new CoreError("bad-value", message);
}
