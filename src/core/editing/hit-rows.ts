import type { Beat, Lane, PatternRef } from "../beat/beat";
import { openPasses, patternLengthTicks } from "../beat/beat";
import { findPart, findPattern } from "../beat/edit";
import { findLane } from "../beat/lanes";
import { GRID_TICKS, LINE_GRID_NAMES } from "../time/grid";
import type { Meter } from "../time/meter";
import { formatPosition } from "../time/position";
import type { Ticks } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { isBeyond, levelOf } from "../timing/resolved-hit";
import { hitOffsets } from "./hit-offset";

/** A hit as the table of hits has it. */
export interface HitRow {
  readonly id: number;
  /** Where it is heard; of a double trigger where it came in. */
  readonly ticks: Ticks;
  readonly lane: Lane;
  readonly laneName: string;
  /** 1..127, before the accents of a groove. */
  readonly velocity: number;
  readonly lengthTicks: Ticks;
  /** From its line; late is positive. */
  readonly offMs: number;
  readonly passName: string;
  readonly patternId: number;
  readonly patternName: string;
  readonly state: "heard" | "covered" | "double";
  /** Somebody moved or weighed it. */
  readonly byHand: boolean;
}

/** The same for every pattern of a part, one after the other. @example partRows(beat, part.id).length // 8 */
export function partRows(beat: Beat, partId: number): readonly HitRow[] {
  return findPart(beat, partId).patterns.flatMap(({ id }) => hitRows(beat, { partId, patternId: id }));
}

/** All hits of a pattern that are not muted, in time. @example hitRows(beat, patternRef)[2].ticks // 960 */
export function hitRows(beat: Beat, patternRef: PatternRef): readonly HitRow[] {
  const part = findPart(beat, patternRef.partId);
  const pattern = findPattern(beat, patternRef);
  const length = patternLengthTicks(pattern, beat.meter);
  const passes = openPasses(pattern);
  const passNames = new Map(passes.map(({ id, name }) => [id, name]));
  const { ms: offset } = hitOffsets(beat, pattern);
  const nameOf = (lane: Lane) => findLane(part, lane)?.name ?? String(lane);
  const its = { patternId: pattern.id, patternName: pattern.name };
  const rows = resolvedHits(pattern, beat.meter).map((heard): HitRow => {
    const { hit, ticks, lengthTicks, duplicateOnLine, passId } = heard;
    return {
      ...{ id: hit.id, ticks, lane: hit.lane, laneName: nameOf(hit.lane), velocity: levelOf(hit), lengthTicks },
      ...its,
      offMs: offset(heard),
      passName: passNames.get(passId) ?? "",
      state: duplicateOnLine ? "covered" : "heard",
      byHand: hit.start?.by === "hand" || hit.struckLane !== undefined,
    };
  });
  for (const { name, hits } of passes)
    for (const { id, lane, played, lengthTicks } of hits.filter((hit) => hit.masked && !isBeyond(hit, length))) {
      const { ticks, velocity } = played;
      const of = { id, ticks, lane, laneName: nameOf(lane), velocity, lengthTicks, offMs: 0, passName: name };
      rows.push({ ...of, ...its, state: "double", byHand: false });
    }
  return rows.sort((a, b) => a.ticks - b.ticks || a.lane - b.lane || a.id - b.id);
}

/** A place as it is typed. @example placeText(4325 as Ticks, { beats: 4, unit: 4 }) // "2.1.485"; before the loop "1.1.000-20t" */
export function placeText(ticks: Ticks, meter: Meter): string {
  return ticks < 0 ? `1.1.000-${Math.round(-ticks)}t` : formatPosition(ticks, meter);
}

/** A length as it is typed: a note value where it is one, else ticks. @example lengthText(320 as Ticks) // "1/8T" */
export function lengthText(ticks: Ticks): string {
  return LINE_GRID_NAMES.find((name) => GRID_TICKS[name] === ticks) ?? String(Math.round(ticks));
}

/** @example offsetText(-8.2) // "-8.2"; nothing anybody could hear is 0 */
export function offsetText(ms: number): string {
  return Math.abs(ms) < 0.05 ? "0" : ms.toFixed(1);
}

/** Rows as text for other programs: a line each, with a head. @param separator between cells, such as a tab or a comma */
export function rowsAsText(rows: readonly HitRow[], meter: Meter, separator: string): string {
  const cells = rows.map((row) => [
    row.patternName,
    placeText(row.ticks, meter),
    row.laneName,
    String(row.velocity),
    lengthText(row.lengthTicks),
    offsetText(row.offMs),
    row.passName,
    row.state,
  ]);
  const head = ["pattern", "place", "lane", "velocity", "length", "ms late", "pass", "state"];
  return [head, ...cells].map((line) => line.map((cell) => quoted(cell, separator)).join(separator)).join("\r\n");
}

/** RFC 4180 (from memory): what holds a separator, a quote or a line's end stands in quotes. */
function quoted(cell: string, separator: string): string {
  // What begins like a formula would be one in a spreadsheet.
  const plain = /^[=+@]/.test(cell) || (cell.startsWith("-") && !/^-[\d.]+$/.test(cell)) ? `'${cell}` : cell;
  return plain.includes(separator) || /["\r\n]/.test(plain) ? `"${plain.replaceAll('"', '""')}"` : plain;
}
