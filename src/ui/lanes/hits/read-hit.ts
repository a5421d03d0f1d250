import type { Beat, Pattern } from "@/core/beat/beat";
import { hitOffsets } from "@/core/editing/hit-offset";
import { formatPosition } from "@/core/time/position";
import { resolvedHits } from "@/core/timing/resolve-timing";
import { levelOf, type TimingView } from "@/core/timing/resolved-hit";

/** A hit in words: where it sounds, how early or late it was played, how hard, in which pass. */
export function readHit(beat: Beat, pattern: Pattern, hitId: number, timingView: TimingView): string | undefined {
  const mark = resolvedHits(pattern, beat.meter, timingView).find(({ hit }) => hit.id === hitId);
  if (!mark) return readDouble(beat, pattern, hitId);
  const { hit, ticks, velocity, duplicateOnLine, passId } = mark;
  const pass = pattern.passes.find(({ id }) => id === passId);
  const ms = hitOffsets(beat, pattern).ms(mark);
  const late = Math.abs(ms) < 0.5 ? "on the line" : `${Math.abs(ms).toFixed(0)} ms ${ms < 0 ? "early" : "late"}`;
  const level = timingView === "played" ? velocity : levelOf(hit);
  const accented = velocity === level ? "" : `, heard ${velocity}`;
  const weighed = level === hit.played.velocity ? "" : `, played ${hit.played.velocity}`;
  const place = ticks < 0 ? "before 1.1.000" : formatPosition(ticks, beat.meter);
  return [
    place,
    late,
    `velocity ${level}${weighed}${accented}`,
    pass?.name ?? "",
    ...(duplicateOnLine ? ["covered by a louder hit"] : []),
  ].join(" · ");
}

/** A double trigger, which is not heard. */
function readDouble({ meter }: Beat, { passes }: Pattern, hitId: number): string | undefined {
  const pass = passes.find(({ hits }) => hits.some(({ id, masked }) => id === hitId && masked));
  const played = pass?.hits.find(({ id }) => id === hitId)?.played;
  return (
    played &&
    `${formatPosition(played.ticks, meter)} · double trigger, silent · velocity ${played.velocity} · ${pass!.name}`
  );
}
