import type { Beat, Hit, Pass } from "@/core/beat/beat";
import { CoreError } from "@/core/core-error";
import { remember } from "@/core/remember";
import type { Rows } from "./row-store";
import type { BeatRecord, HitsRecord } from "./rows";

/** Passes of more hits than this lie in rows of their own. */
const MOST_INLINE = 128;
/** A row has the hits whose ids are between two multiples of this. */
const IDS_IN_STRETCH = 512;

type HitsTable = Rows<"hits">;

/** Hits of a pass that lie in one row. */
interface Stretch {
  readonly passId: number;
  readonly number: number;
  readonly hits: readonly Hit[];
}

/** A beat as it is written: without the hits that lie apart, and these. */
export interface PartedBeat {
  readonly spine: Beat;
  /** Number of hits of each pass that lie apart, by its id; undefined where none do. */
  readonly apart: Readonly<Record<number, number>> | undefined;
  readonly stretches: readonly Stretch[];
}

/** A pass that has not changed is not gone through again: a mute beside a hundred thousand hits is a small edit. */
const knownStretches = remember<Pass, readonly Stretch[]>();

/** Takes the hits of large passes out, so that a change of something else, or of some of them, writes little. */
export function partBeat(beat: Beat): PartedBeat {
  const stretches: Stretch[] = [];
  const apart: Record<number, number> = {};
  const spineOf = (pass: Pass): Pass => {
    if (pass.hits.length <= MOST_INLINE) return pass;
    stretches.push(...knownStretches(pass, [], () => stretchesOf(pass)));
    apart[pass.id] = pass.hits.length;
    return { ...pass, hits: [] };
  };
  const parts = beat.parts.map((part) => ({
    ...part,
    patterns: part.patterns.map((pattern) => ({ ...pattern, passes: pattern.passes.map(spineOf) })),
  }));
  return stretches.length === 0
    ? { spine: beat, apart: undefined, stretches }
    : { spine: { ...beat, parts }, apart, stretches };
}

/** In the order of the hits; where their ids don't ascend, which no program of ours makes, all in one. */
function stretchesOf({ id: passId, hits }: Pass): readonly Stretch[] {
  const stretches: { passId: number; number: number; hits: Hit[] }[] = [];
  for (const hit of hits) {
    const number = Math.floor(hit.id / IDS_IN_STRETCH);
    const last = stretches.at(-1);
    if (last && number < last.number) return [{ passId, number: 0, hits }];
    if (last?.number === number) last.hits.push(hit);
    else stretches.push({ passId, number, hits: [hit] });
  }
  return stretches;
}

/**
 * A row of a beat with its hits in place; one that has none apart as it is.
 * @param rows those of this beat, in the order of their keys
 * @throws CoreError "bad-record" where they are not those that the row tells of
 */
export function joinHits(row: BeatRecord, rows: readonly HitsRecord[]): BeatRecord {
  const { apart } = row;
  if (!apart) return row;
  const joined = (pass: Pass): Pass => {
    const count = apart[pass.id];
    if (count === undefined) return pass;
    const hits = rows.filter(({ passId }) => passId === pass.id).flatMap(({ hits }) => parsed(hits));
    if (hits.length !== count)
      throw new CoreError("bad-record", `Pass ${pass.id} has ${count} hits, and ${hits.length} of them are there.`);
    return { ...pass, hits };
  };
  const { apart: _, ...whole } = row;
  const parts = row.beat.parts.map((part) => ({
    ...part,
    patterns: part.patterns.map((pattern) => ({ ...pattern, passes: pattern.passes.map(joined) })),
  }));
  return { ...whole, beat: { ...row.beat, parts } };
}

function parsed(text: string): readonly Hit[] {
  try {
    const hits: unknown = JSON.parse(text);
    if (Array.isArray(hits)) return hits as readonly Hit[];
  } catch {
    // Said below.
  }
  throw new CoreError("bad-record", "Hits of a pass are no list.");
}

const hitsOf = (beatId: string) => ({
  from: [beatId, -Infinity, -Infinity] as const,
  to: [beatId, Infinity, Infinity] as const,
});

/** Within a transaction: the rows of a beat's hits, in the order of their keys. */
export function readHits(rows: HitsTable, beatId: string): Promise<readonly HitsRecord[]> {
  return rows.hits.list(hitsOf(beatId)) as Promise<readonly HitsRecord[]>;
}

/** Within a transaction. */
export function removeHits(rows: HitsTable, beatId: string): Promise<void> {
  return rows.hits.deleteWhere(hitsOf(beatId));
}

/** Knows which hits are on disk, as this page wrote them. */
export class HitsOnDisk {
  private readonly known = new Map<string, { readonly stamp: string; readonly stretches: readonly Stretch[] }>();

  /**
   * Within a transaction: makes the rows of a beat's hits what they are now; only what changed, if nobody else wrote meanwhile.
   * @param stored the beat's row as it is on disk
   */
  async write(rows: HitsTable, beatId: string, stored: unknown, { stretches }: PartedBeat): Promise<void> {
    const known = this.known.get(beatId);
    const isCurrent = known !== undefined && (stored as BeatRecord | undefined)?.written === known.stamp;
    const before = new Map(isCurrent ? known.stretches.map((one) => [keyOf(one), one]) : []);
    if (!isCurrent) await removeHits(rows, beatId);
    const changed = stretches.filter((one) => !haveSameHits(one, before.get(keyOf(one))));
    const now = new Set(stretches.map(keyOf));
    const gone = [...before.values()].filter((one) => !now.has(keyOf(one)));
    await rows.hits.delete(...gone.map(({ passId, number }) => [beatId, passId, number] as const));
    await rows.hits.put(
      ...changed.map(({ passId, number, hits }) => ({ beatId, passId, number, hits: JSON.stringify(hits) })),
    );
  }

  /** Takes note that what was written is on disk. @param stamp that of the beat's row */
  written(beatId: string, stamp: string, { stretches }: PartedBeat): void {
    this.known.set(beatId, { stamp, stretches });
  }
}

function keyOf({ passId, number }: Stretch): string {
  return `${passId} ${number}`;
}

function haveSameHits({ hits }: Stretch, other: Stretch | undefined): boolean {
  if (other?.hits === hits) return true;
  return other?.hits.length === hits.length && hits.every((hit, at) => hit === other.hits[at]);
}
