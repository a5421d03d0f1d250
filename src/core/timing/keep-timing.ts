import type { Beat, Hit, KeptStart, Pass, Pattern, PatternPlace, TimingPoint } from "../beat/beat";
import { editPattern, findPattern, numberHit } from "../beat/edit";
import type { Meter } from "../time/meter";
import { heard } from "./heard";

/** Older points make room for newer ones. */
export const MAX_POINTS = 32;

/**
 * Makes what is heard the new start: every hit begins from where it sounds, at the level it sounds, with nothing on top.
 * The played times stay. The state is a point to come back to.
 */
export function keepTiming(beat: Beat, place: PatternPlace, name: string): Beat {
  const pattern = findPattern(beat, place);
  const starts = heardStarts(pattern, beat.meter);
  const point: TimingPoint = { id: beat.nextId, name: name.trim().slice(0, 120) || "Kept", starts };
  const points = [...(pattern.points ?? []), point].slice(-MAX_POINTS);
  return {
    ...editPattern(beat, place, (current) => ({ ...startFrom(current, (hit) => starts[hit.id]), points })),
    nextId: beat.nextId + 1,
  };
}

/** Goes back to a point, exactly; hits that were recorded since keep their own timing. Without that point nothing changes. */
export function returnToPoint(beat: Beat, place: PatternPlace, pointId: number): Beat {
  const point = findPattern(beat, place).points?.find(({ id }) => id === pointId);
  if (!point) return beat;
  return editPattern(beat, place, (pattern) => startFrom(pattern, ({ id }) => point.starts[id]));
}

/** Goes back to what was played: every hit where and as hard as the stick fell. */
export function returnToPlayed(beat: Beat, place: PatternPlace): Beat {
  return editPattern(beat, place, (pattern) =>
    startFrom(pattern, ({ playedTicks: ticks, velocity }) => ({ ticks, velocity })),
  );
}

/** Lets hits start from elsewhere, and takes everything off that would move them on. */
function startFrom(pattern: Pattern, startOf: (hit: Hit) => KeptStart | undefined): Pattern {
  const { swing: _, groove: __, looseness: ___, ...bare } = pattern;
  return {
    ...bare,
    passes: pattern.passes.map((pass) => {
      const starts = pass.hits.map(startOf);
      if (starts.every((start) => start === undefined)) return pass;
      const hits = pass.hits.map((hit, index) => restarted(hit, starts[index]));
      return { ...pass, quantize: { grid: "off", strength: 1, reach: 1 } as const, hits };
    }),
  };
}

function restarted(hit: Hit, start: KeptStart | undefined): Hit {
  if (!start) return hit;
  const { quantize: _, kept: __, ...bare } = hit;
  const asPlayed = start.ticks === (hit.straightTicks ?? hit.playedTicks) && start.velocity === hit.velocity;
  return numberHit(asPlayed && !start.covered ? bare : { ...bare, kept: start }, hit.id);
}

function heardStarts(pattern: Pattern, meter: Meter): Record<number, KeptStart> {
  const open = ({ soloed: _, ...pass }: Pass): Pass => ({ ...pass, muted: false });
  const starts: Record<number, KeptStart> = {};
  // What is muted now takes no place from what is heard, so it is worked out on its own.
  const muted = pattern.passes.filter((pass) => pass.muted).map((pass) => [open(pass)]);
  const sounding = pattern.passes.filter((pass) => !pass.muted).map(open);
  for (const passes of [sounding, ...muted]) {
    for (const { hit, ticks, velocity, covered } of heard({ ...pattern, passes }, meter))
      starts[hit.id] = { ticks, velocity, ...(covered && { covered }) };
  }
  return starts;
}
