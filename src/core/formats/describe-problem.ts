import type { ErrorObject } from "ajv";

/** Where in a file something is wrong, and what, in words. */
export function describeProblem({ instancePath, keyword, params, message, data }: ErrorObject): string {
  const where = instancePath || "the file";
  const got = typeof data === "object" ? "" : `, got ${JSON.stringify(data).slice(0, 40)}`;
  if (keyword === "additionalProperties") return `${where}: "${params.additionalProperty}" is not known here`;
  if (keyword === "required") return `${where}: "${params.missingProperty}" is missing`;
  if (keyword === "enum") return `${where}: must be one of ${params.allowedValues.join(", ")}${got}`;
  if (keyword === "const") return `${where}: must be ${JSON.stringify(params.allowedValue)}${got}`;
  return `${where}: ${message}${got}`;
}
