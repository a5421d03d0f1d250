import type { ErrorObject, ValidateFunction } from "ajv";
import { describeProblem } from "./describe-problem";

/** The readable members of an object, and the problems of the others. */
export interface ReadableMembers {
  readonly members: Readonly<Record<string, unknown>>;
  readonly problems: readonly string[];
}

/**
 * An object without the members that its schema does not take, and without such items of its lists; nothing of what is no object.
 * @param validate tells all that is wrong, not only the first
 * @example of `{ clickOn: true, clickDb: null }`: members { clickOn: true }, problems ["/clickDb: must be number, got null"]
 */
export function readableMembers(data: unknown, validate: ValidateFunction): ReadableMembers {
  const problems: string[] = [];
  let members = data;
  // What is left out may have hidden what else is wrong.
  while (!validate(members)) {
    const errors = validate.errors ?? [];
    problems.push(...errors.map(describeProblem));
    const places = errors.map(placeOf);
    if (places.some(({ length }) => length === 0)) return { members: {}, problems };
    members = without(members, places);
  }
  return { members: members as Readonly<Record<string, unknown>>, problems };
}

/** The names on the way to what is to be left out: a member, or an item of a list. */
function placeOf({ instancePath, keyword, params }: ErrorObject): readonly string[] {
  const names = instancePath.split("/").slice(1);
  if (keyword === "additionalProperties") names.push(String(params.additionalProperty));
  const item = names.findIndex((name) => /^\d+$/.test(name));
  return item < 0 ? names.slice(0, 1) : names.slice(0, item + 1);
}

function without(data: unknown, places: readonly (readonly string[])[]): unknown {
  const gone = new Set(places.filter(({ length }) => length === 1).map(([name]) => name!));
  const inside = (name: string) => places.filter(([first, ...rest]) => first === name && rest.length > 0);
  const entries = Object.entries(data as object).filter(([name]) => !gone.has(name));
  const left = entries.map(([name, value]) => {
    const deeper = inside(name).map(([, ...rest]) => rest);
    return [name, deeper.length === 0 ? value : without(value, deeper)] as const;
  });
  return Array.isArray(data) ? left.map(([, value]) => value) : Object.fromEntries(left);
}
