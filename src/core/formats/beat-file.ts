import { playsItself } from "../beat/edits/also-plays";
import { lanesOf, padsOf } from "../beat/lanes";
import type { Beat, Pattern } from "../beat/beat";
import { hitCount, pointStarts } from "../beat/beat";
import { derivedSeconds } from "../beat/samples/derived-sounds";
import { samplesIn } from "../beat/samples/pad-samples";
import { compactIds } from "../beat/edits/compact-ids";
import { CoreError } from "../core-error";
import { parseJson } from "./parse-json";
import { describeProblem } from "./describe-problem";
import { upgradeBeat, type Beat1 } from "./beat-1";
import validateFirst from "./generated/beat-1-validator";
import validate from "./generated/beat-validator";
import { grooveProblem } from "./groove-file";
import { layerProblems } from "./layer-problems";
import {
  MAX_BEAT_FILE_BYTES,
  MAX_DERIVED_SECONDS,
  MAX_HITS,
  MAX_PASSES,
  MAX_PATTERNS,
  MAX_POINT_STARTS,
  MAX_SAMPLES,
} from "../limits";

export const BEAT_FILE_FORMAT = "echo-pocket-beat";
export const BEAT_FILE_VERSION = 2;

/**
 * @returns the text of a beat file, as docs/schema/beat.schema.json describes it
 * @example JSON.parse(writeBeatFile(beat)).format // "echo-pocket-beat"
 */
export function writeBeatFile(beat: Beat): string {
  return JSON.stringify({ format: BEAT_FILE_FORMAT, version: BEAT_FILE_VERSION, beat });
}

/**
 * The inverse of writeBeatFile, for text from anywhere.
 * @example readBeatFile(writeBeatFile(beat)).name // "Tide Table"
 * @throws CoreError "too-large" over 64 MB, 256 patterns, 10,000 passes, 100,000 hits, 64 samples or half an hour of tuned and
 *   cut sounds; "bad-beat-file" with what is wrong and where
 */
export function readBeatFile(text: string): Beat {
  if (text.length > MAX_BEAT_FILE_BYTES)
    throw new CoreError("too-large", "This file is larger than 64 MB, the most a beat file may have.");
  const beat = checkBeatFile(parseJson(text, "bad-beat-file", "beat file"));
  checkSounds(beat);
  return beat;
}

/** Checks a beat from anywhere else, such as the browser's store. @throws CoreError as readBeatFile */
export function checkBeat(beat: unknown): Beat {
  return checkBeatFile({ format: BEAT_FILE_FORMAT, version: BEAT_FILE_VERSION, beat });
}

/** The same for parsed JSON; what the first version wrote becomes a beat of today. */
export function checkBeatFile(data: unknown): Beat {
  const version = versionOf(data);
  if (version !== undefined && version !== 1 && version !== BEAT_FILE_VERSION)
    throw new CoreError(
      "bad-beat-file",
      `This beat file can't be read: /version: is ${version}, and here 1 and 2 are known.`,
    );
  const first = version === 1;
  const check = first ? validateFirst : validate;
  if (!check(data)) {
    const problems = (check.errors ?? []).map(describeProblem);
    throw new CoreError("bad-beat-file", `This beat file can't be read: ${problems[0]}.`, problems);
  }
  const beat = first ? upgradeBeat((data as { beat: Beat1 }).beat) : (data as { beat: Beat }).beat;
  checkCounts(beat);
  const problems = [...unfilledBar(beat), ...strayReferences(beat)];
  if (problems.length > 0)
    throw new CoreError("bad-beat-file", `This beat file can't be read: ${problems[0]}.`, problems);
  return compactIds(beat);
}

function versionOf(data: unknown): number | undefined {
  const version = typeof data === "object" && data !== null && "version" in data ? data.version : undefined;
  return typeof version === "number" ? version : undefined;
}

/** @throws CoreError "too-large" over what a beat may hold */
export function checkCounts(beat: Beat): void {
  const patterns = beat.parts.flatMap((part) => part.patterns);
  checkCount(patterns.length, MAX_PATTERNS, "patterns");
  const passes = patterns.reduce((sum, pattern) => sum + pattern.passes.length, 0);
  checkCount(passes, MAX_PASSES, "passes");
  checkCount(hitCount(beat), MAX_HITS, "hits");
  const starts = patterns.reduce((sum, pattern) => sum + pointStarts(pattern), 0);
  checkCount(starts, MAX_POINT_STARTS, "kept starts");
}

/** Not of what is stored: a beat that came to more before this was looked at stays what it is. */
function checkSounds(beat: Beat): void {
  checkCount(samplesIn(beat).length, MAX_SAMPLES, "samples");
  checkCount(Math.ceil(derivedSeconds(beat)), MAX_DERIVED_SECONDS, "seconds of tuned and cut sounds");
}

function checkCount(count: number, most: number, what: string): void {
  if (count > most) throw new CoreError("too-large", `This beat has ${count} ${what}; ${most} are the most.`);
}

/** The groups of a meter make up its bar. */
function* unfilledBar({ meter: { beats, groups } }: Beat): Generator<string> {
  if (groups && groups.reduce((sum, group) => sum + group, 0) !== beats)
    yield `/beat/meter/groups: ${groups.join("+")} is not ${beats}`;
}

/** An alternate is one of a pattern before it that is none, and the only one. */
function* strayAlternates(patterns: readonly Pattern[], at: string): Generator<string> {
  const free = new Set<number>();
  for (const [n, { id, alternateOf }] of patterns.entries()) {
    if (alternateOf === undefined) free.add(id);
    else if (!free.delete(alternateOf))
      yield `${at}/patterns/${n}/alternateOf: ${alternateOf} is no pattern before it that has no alternate yet`;
  }
}

/** What a schema cannot say: ids are used once and are below `nextId`, hits are on pads that exist. */
function* strayReferences(beat: Beat): Generator<string> {
  const seen = new Set<number>();
  const claim = function* (id: number, where: string) {
    if (seen.has(id)) yield `${where}/id: ${id} is used twice`;
    if (id >= beat.nextId) yield `${where}/id: ${id} is not below nextId ${beat.nextId}`;
    seen.add(id);
  };
  for (const [p, part] of beat.parts.entries()) {
    const at = `/beat/parts/${p}`;
    yield* claim(part.id, at);
    const lanes = new Set(lanesOf(part).map(({ id }) => id));
    if (lanes.size < lanesOf(part).length) yield `${at}/pads: two pads have the same id`;
    const slots = padsOf(part).flatMap(({ slot }) => (slot === undefined ? [] : [slot]));
    if (new Set(slots).size < slots.length) yield `${at}/pads: two pads have the same slot`;
    yield* layerProblems(padsOf(part), at);
    if (playsItself(beat, part)) yield `${at}/alsoPlays: leads to no part, or back to this one`;
    yield* strayAlternates(part.patterns, at);
    for (const [n, pattern] of part.patterns.entries()) {
      yield* claim(pattern.id, `${at}/patterns/${n}`);
      const noLane = pattern.silentLanes?.find((lane) => !lanes.has(lane));
      if (noLane !== undefined) yield `${at}/patterns/${n}/silentLanes: there is no pad ${noLane} in this part`;
      const wrong = pattern.groove && grooveProblem(pattern.groove.groove);
      if (wrong) yield `${at}/patterns/${n}/groove/groove/lines: ${wrong}`;
      for (const [s, pass] of pattern.passes.entries()) {
        const passAt = `${at}/patterns/${n}/passes/${s}`;
        yield* claim(pass.id, passAt);
        for (const [h, hit] of pass.hits.entries()) {
          yield* claim(hit.id, `${passAt}/hits/${h}`);
          if (!lanes.has(hit.lane)) yield `${passAt}/hits/${h}/lane: there is no pad ${hit.lane} in this part`;
        }
      }
    }
  }
}
