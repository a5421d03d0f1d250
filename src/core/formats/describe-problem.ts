import type { ErrorObject } from "ajv";

/** Of a name or a value of a file, which may be of any length. */
const SHOWN_CHARACTERS = 40;

/** Where in a file something is wrong, and what, in words. */
export function describeProblem({ instancePath, keyword, params, message, data }: ErrorObject): string {
  const where = instancePath || "the file";
  const got = typeof data === "object" ? "" : `, got ${shown(data)}`;
  if (keyword === "additionalProperties")
    return `${where}: "${String(params.additionalProperty).slice(0, SHOWN_CHARACTERS)}" is not known here`;
  // Which of several things it is.
  if (keyword === "discriminator" && params.tagValue === undefined) return `${where}: "${params.tag}" is missing`;
  if (keyword === "discriminator") return `${where}: "${params.tag}" is not known here: ${shown(params.tagValue)}`;
  if (keyword === "required") return `${where}: "${params.missingProperty}" is missing`;
  if (keyword === "enum") return `${where}: must be one of ${params.allowedValues.join(", ")}${got}`;
  if (keyword === "const") return `${where}: must be ${JSON.stringify(params.allowedValue)}${got}`;
  return `${where}: ${message}${got}`;
}

function shown(value: unknown): string {
  return String(JSON.stringify(value)).slice(0, SHOWN_CHARACTERS);
}
