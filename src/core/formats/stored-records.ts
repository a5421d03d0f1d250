import type { Beat } from "../beat/beat";
import type { KeptPass } from "../beat/edits/kept-pass";
import { CoreError } from "../core-error";
import { withDelta, type Delta } from "../delta";
import type { LookbackHit } from "../recover/echo";
import { checkBeat } from "./beat-file";
import { describeProblem } from "./describe-problem";
import validateEchoMark from "./generated/echo-mark-validator";
import validateJournal from "./generated/journal-validator";
import validateLookback from "./generated/lookback-validator";
import validateProfile from "./generated/profile-validator";
import validateSettings from "./generated/settings-validator";
import validateStep from "./generated/step-validator";
import { parseJson } from "./parse-json";
import { readableMembers } from "./readable-members";

type Validate = typeof validateJournal;

/**
 * A beat as a step of its history left it, of the beat that is next to it. Ids that were given meanwhile are not given again.
 * @param text a Delta as JSON
 * @throws CoreError where it is none, or what it makes is no beat
 */
export function restoreBeat(beside: Beat, text: string): Beat {
  const delta = parseJson(text, "bad-record", "step of the history") as Delta;
  const beat = checkBeat(withDelta(beside, delta));
  if (beat.id !== beside.id) throw new CoreError("bad-record", "A step of the history is another beat's.");
  return beat.nextId < beside.nextId ? { ...beat, nextId: beside.nextId } : beat;
}

/** Reads the passes of a journal, which are JSON. @throws CoreError "bad-record" with what is wrong and where */
export function readKeptPasses(text: string): readonly KeptPass[] {
  return checked(text, "list of passes", validateJournal) as readonly KeptPass[];
}

/** Reads a stretch of what was played. @throws CoreError "bad-record" with what is wrong and where */
export function readLookbackHits(text: string): readonly LookbackHit[] {
  return checked(text, "list of strokes", validateLookback) as readonly LookbackHit[];
}

/** A mark of an echo, and a step of a beat's history. @throws CoreError "bad-record" with what is wrong and where */
export const checkEchoMark = (data: unknown) => valid(data, "mark of an echo", validateEchoMark);
export const checkStep = (data: unknown) => valid(data, "step of a beat’s history", validateStep);

/** Readers of settings and device profiles that leave out members which can't be read. */
export const readSettings = (data: unknown) => readableMembers(data, validateSettings);
export const readProfile = (data: unknown) => readableMembers(data, validateProfile);

function checked(text: string, what: string, validate: Validate): unknown {
  return valid(parseJson(text, "bad-record", what), what, validate);
}

function valid(data: unknown, what: string, validate: Validate): unknown {
  if (validate(data)) return data;
  const problems = (validate.errors ?? []).map(describeProblem);
  throw new CoreError("bad-record", `This ${what} can't be read: ${problems[0]}.`, problems);
}
