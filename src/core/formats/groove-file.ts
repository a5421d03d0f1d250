import type { Groove } from "../beat/feel";
import { CoreError } from "../core-error";
import { linesPerBar } from "../timing/groove-lines";
import { describeProblem } from "./describe-problem";
import validate from "./generated/groove-validator";
import { MAX_FILE_BYTES } from "../limits";
import { parseJson } from "./parse-json";

export const GROOVE_FILE_FORMAT = "echo-pocket-groove";

/** @returns the text of a groove file, as docs/schema/groove.schema.json describes it */
export function writeGrooveFile(groove: Groove): string {
  return JSON.stringify({ format: GROOVE_FILE_FORMAT, version: 1, groove }, null, 1);
}

/**
 * The inverse of writeGrooveFile, for text from anywhere.
 * @throws CoreError "too-large" over 10 MB; "bad-groove" with what is wrong and where
 */
export function readGrooveFile(text: string): Groove {
  if (text.length > MAX_FILE_BYTES) throw new CoreError("too-large", "This file is larger than 10 MB.");
  return checkGrooveFile(parseJson(text, "bad-groove", "groove file"));
}

/** Checks a groove from anywhere else, such as the browser's store. @throws CoreError as readGrooveFile */
export function checkGroove(groove: unknown): Groove {
  return checkGrooveFile({ format: GROOVE_FILE_FORMAT, version: 1, groove });
}

function checkGrooveFile(data: unknown): Groove {
  if (!validate(data)) {
    const problems = (validate.errors ?? []).map(describeProblem);
    throw new CoreError("bad-groove", `This groove file can't be read: ${problems[0]}.`, problems);
  }
  const { groove } = data as { groove: Groove };
  const problem = grooveProblem(groove);
  if (problem) throw new CoreError("bad-groove", `This groove file can't be read: /groove/lines: ${problem}.`);
  return groove;
}

/** What a schema cannot say: a groove has a line for every line of its grid. */
export function grooveProblem(groove: Groove): string | undefined {
  const wanted = groove.bars * linesPerBar(groove);
  return groove.lines.length === wanted ? undefined : `must be ${wanted} lines, got ${groove.lines.length}`;
}
