import type { Beat, Part } from "../beat";

/** The parts that sound what is played in one: those it leads to, one after the other, without itself. */
export function followersOf({ parts }: Beat, part: Part): readonly Part[] {
  const followers: Part[] = [];
  for (let next = target(parts, part); next && next !== part && !followers.includes(next); next = target(parts, next))
    followers.push(next);
  return followers;
}

/**
 * True where what a part also plays leads back to it, or to no part: nothing would come of it.
 * @example playsItself(beat, part) // false
 */
export function playsItself({ parts }: Beat, part: Part): boolean {
  const known = new Set<number>();
  for (let now: Part | undefined = part; now?.alsoPlays !== undefined; now = target(parts, now)) {
    if (known.has(now.id) || !target(parts, now)) return true;
    known.add(now.id);
  }
  return false;
}

function target(parts: readonly Part[], { alsoPlays }: Part): Part | undefined {
  return parts.find(({ id }) => id === alsoPlays);
}
