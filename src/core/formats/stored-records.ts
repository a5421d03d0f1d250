import type { KeptPass } from "../beat/kept-pass";
import { CoreError } from "../core-error";
import type { LookbackHit } from "../recover/echo";
import { describeProblem } from "./describe-problem";
import validateJournal from "./generated/journal-validator";
import validateLookback from "./generated/lookback-validator";
import { parseJson } from "./parse-json";

export { checkBeat } from "./beat-file";

/** Reads the passes of a journal, which are JSON. @throws CoreError "bad-record" with what is wrong and where */
export function readKeptPasses(text: string): readonly KeptPass[] {
  return checked(text, "list of passes", validateJournal) as readonly KeptPass[];
}

/** Reads a stretch of what was played. @throws CoreError "bad-record" with what is wrong and where */
export function readLookbackHits(text: string): readonly LookbackHit[] {
  return checked(text, "list of strokes", validateLookback) as readonly LookbackHit[];
}

function checked(text: string, what: string, validate: typeof validateJournal): unknown {
  const data = parseJson(text, "bad-record", what);
  if (validate(data)) return data;
  const problems = (validate.errors ?? []).map(describeProblem);
  throw new CoreError("bad-record", `This ${what} can't be read: ${problems[0]}.`, problems);
}
