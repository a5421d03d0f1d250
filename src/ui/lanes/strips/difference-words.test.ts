import type { ResolvedHit } from "@/core/timing/resolved-hit";
import type { PatternDifference } from "@/core/editing/pattern-difference";
import { differenceInWords } from "./difference-words";

const hit = {} as ResolvedHit;
const moved = { from: hit, to: hit };
const NONE: PatternDifference = { added: [], gone: [], moved: [], weighed: [], silenced: [], unsilenced: [] };

test.each<[string, Partial<PatternDifference>]>([
  ["no difference", {}],
  ["2 added, 1 gone, 1 moved", { added: [hit, hit], gone: [hit], moved: [moved] }],
  ["1 softer or louder, 1 lane silent", { weighed: [moved], silenced: [3] }],
  ["2 lanes silent, 1 lane no longer silent", { silenced: [3, 4], unsilenced: [1] }],
])("%s", (words, difference) => expect(differenceInWords({ ...NONE, ...difference })).toBe(words));
