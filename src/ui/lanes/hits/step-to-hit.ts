import type { ResolvedHit } from "@/core/timing/resolved-hit";

/** The hit beside the one that has the focus: in its lane, or the nearest in the next lane with hits. */
export function stepToHit(
  key: string,
  focus: number | undefined,
  all: readonly ResolvedHit[],
  rowOf: ReadonlyMap<number, number>,
): ResolvedHit | undefined {
  const inTime = all.toSorted((a, b) => a.ticks - b.ticks || a.hit.id - b.hit.id);
  const from = all.find(({ hit }) => hit.id === focus);
  if (!from) return inTime[0];
  if (key === "ArrowLeft" || key === "ArrowRight") {
    const lane = inTime.filter(({ hit }) => hit.lane === from.hit.lane);
    const index = lane.indexOf(from) + (key === "ArrowRight" ? 1 : -1);
    return lane[(index + lane.length) % lane.length];
  }
  const by = key === "ArrowDown" ? 1 : -1;
  const row = (heard: ResolvedHit) => rowOf.get(heard.hit.lane) ?? 0;
  const beyond = all.filter((heard) => (row(heard) - row(from)) * by > 0);
  const nextRow = beyond.reduce((best, heard) => (by * row(heard) < by * best ? row(heard) : best), by * Infinity);
  return beyond
    .filter((heard) => row(heard) === nextRow)
    .sort((a, b) => Math.abs(a.ticks - from.ticks) - Math.abs(b.ticks - from.ticks))[0];
}
