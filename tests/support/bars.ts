import { readFileSync } from "node:fs";

/** What each thing may come to, by its name with its unit. */
const BARS: Readonly<Record<string, number>> = JSON.parse(readFileSync("tests/bars/bars.json", "utf8"));
/** Names of files and the like make a size a little larger or smaller; what is counted in our own code is what it is. */
const slackOf = (name: string) => (/bytes|kB|elements/.test(name) ? 1.01 : 1);
/** Whatever stays so far below its bar has become better, and is to stay so. */
const LOOSE = 0.85;

/**
 * Holds a measured size, count or ratio that no noise reaches to its bar in tests/bars/bars.json.
 * @param measured the smaller the better
 * @returns what is to be done, or nothing: a bar that has become too low is an answer as well
 * @example barProblem("nodes of the shelf", 400) // "nodes of the shelf: 400, and its bar is 350. ..."
 */
export function barProblem(name: string, measured: number): string | undefined {
  const bar = BARS[name];
  if (bar === undefined) return `${name}: ${measured}, and there is no bar for it in tests/bars/bars.json.`;
  if (measured > bar * slackOf(name))
    return `${name}: ${measured}, and its bar is ${bar}. Find out what made it worse.`;
  if (measured < bar * LOOSE) return `${name}: ${measured}, far below its bar of ${bar}. Lower the bar.`;
  return undefined;
}
