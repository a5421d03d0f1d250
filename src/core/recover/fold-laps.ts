import { wholeSpan } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { placeStroke } from "../record/place-stroke";
import { barTicks, type Meter } from "../time/meter";
import { secondsToTicks } from "../time/tempo";
import { asSeconds } from "../time/ticks";
import { bringBackAlong, type AlongHit, type AlongRecall } from "./bring-back-along";
import type { FreeHit } from "./readings/reading";

/** Something that was played along with a loop of a known tempo. */
export interface LoopPlaying {
  readonly id: string;
  /** At least one, ascending in time. */
  readonly hits: readonly FreeHit[];
  readonly bpm: number;
  readonly meter: Meter;
  readonly bars: number;
  /** When the loop's first downbeat was. */
  readonly startSeconds: number;
}

export interface FoldedHit {
  /** From the loop's start, 960 a quarter, with its fraction; negative when it was early on the downbeat. */
  readonly tick: number;
  readonly note: number;
  readonly velocity: number;
}

export interface FoldedLaps {
  readonly bars: number;
  /** One, or one for each take. */
  readonly passes: readonly { readonly name: string; readonly hits: readonly FoldedHit[] }[];
}

/**
 * Brings laps of a loop back as the app does, without a beat around them.
 * @throws CoreError "bad-value" where nothing was played in the lap that is asked for, or it would be too long
 */
export function foldLaps(playing: LoopPlaying, way: Omit<AlongRecall, "into">): FoldedLaps {
  const { id, hits, bpm, meter, bars, startSeconds } = playing;
  const beat = newBeat({ id: "fold", name: id, bpm, meter, bars });
  const patternRef = firstPlace(beat);
  const span = wholeSpan(findPattern(beat, patternRef), meter);
  const along = hits.flatMap(({ time, note, velocity }): readonly AlongHit[] => {
    const ticks = secondsToTicks(asSeconds(time - startSeconds), bpm);
    const at = placeStroke(ticks, span, barTicks(meter), beat.inputQuantize.grid);
    if (at.lap < 0) return [];
    const { lap, playedTicks } = at;
    return [
      {
        timeMs: time * 1000,
        // Keys stand for pads here: all that folding asks is which strokes are of one drum.
        pad: note,
        note,
        velocity,
        device: "file",
        beatId: beat.id,
        partId: patternRef.partId,
        along: { patternId: patternRef.patternId, run: 0, lap, lapTicks: span.lengthTicks, bpm, playedTicks },
      },
    ];
  });
  if (along.length === 0) return { bars, passes: [] };
  const back = bringBackAlong(beat, patternRef, along, { ...way, into: "same" }, false);
  const folded = findPattern(back.beat, back.patternRef);
  const passes = folded.passes.map((pass) => ({
    name: pass.name,
    hits: pass.hits
      .map(({ lane, played: { ticks, velocity } }): FoldedHit => ({ tick: ticks, note: lane, velocity }))
      .sort((a, b) => a.tick - b.tick || a.note - b.note),
  }));
  return { bars: folded.bars, passes };
}
