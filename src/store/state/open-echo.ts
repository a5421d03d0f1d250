import type { Beat } from "@/core/beat/beat";
import { alongHits } from "@/core/recover/bring-back";
import type { AlongRecall } from "@/core/recover/bring-back-along";
import type { FreeRecall } from "@/core/recover/bring-back-free";
import type { Echo } from "@/core/recover/echo";
import { mostAstray } from "@/core/recover/pulse/pulse";
import type { Reading, ReadingHints } from "@/core/recover/readings/reading";
import type { Meter } from "@/core/time/meter";

/** The echo that is looked at, and how it would come back. */
export interface OpenEcho {
  /** The phrase, or what is left of it between the ends that were chosen. */
  readonly echo: Echo;
  /** All of it, and which hit of it is the first that is left. */
  readonly whole: Echo;
  readonly from: number;
  /** The best first; undefined while they are being worked out. */
  readonly readings: readonly Reading[] | undefined;
  readonly chosen: number;
  /** What the player says about the readings. */
  readonly hints: Omit<ReadingHints, "session" | "kept"> & { readonly meter?: Meter | undefined };
  readonly taps: number;
  /** Only what was played in this part comes back; all of it where it is left out. */
  readonly partId?: number | undefined;
  readonly along: Omit<AlongRecall, "kind">;
  /** Undefined: as suits the beat. */
  readonly tempo: FreeRecall["tempo"] | undefined;
  /** Undefined: where the playing drifts. */
  readonly straighten: boolean | undefined;
  readonly quantized: boolean;
}

/** A phrase as it is when it is looked at first. */
export function openedEcho(echo: Echo, beat: Beat): OpenEcho {
  return {
    echo,
    whole: echo,
    from: 0,
    readings: undefined,
    chosen: 0,
    hints: {},
    taps: 0,
    along: { fold: "merged", into: "same", lap: alongHits(echo, beat).at(-1)?.along.lap ?? 0 },
    tempo: undefined,
    straighten: undefined,
    quantized: false,
  };
}

/** It was played with a loop: where it belongs is known. */
export function isAlong(echo: Pick<Echo, "hits">, beat: Beat): boolean {
  return alongHits(echo, beat).length > 0;
}

/** A pulse further from a steady one than this is worth straightening. */
const DRIFTS_SECONDS = 0.03;

/** What of the phrase comes back: all of it, or what was played in the part that was chosen. */
export function chosenHits({ echo, partId }: OpenEcho): Pick<Echo, "hits"> {
  return partId === undefined ? echo : { hits: echo.hits.filter((hit) => hit.partId === partId) };
}

/** The choice that holds: the player's, or what suits. */
export function straightens({ straighten }: OpenEcho, reading: Reading): boolean {
  return straighten ?? mostAstray(reading) > DRIFTS_SECONDS;
}
