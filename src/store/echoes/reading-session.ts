import type { LookbackHit } from "@/core/recover/echo";
import {
  isLike,
  RARE_METERS,
  THINKABLE_METERS,
  type FreeHit,
  type Reading,
  type ReadingHints,
} from "@/core/recover/readings/reading";
import { pulseTicks, sameMeter, type Meter } from "@/core/time/meter";
import { addTap, readTaps } from "@/core/time/tap-tempo";
import { TICKS_PER_QUARTER } from "@/core/time/ticks";
import type { WorkspaceStore } from "../state/controller";
import { EchoController } from "./echo-controller";
import type { OpenEcho } from "../state/open-echo";
import { wordsOf } from "../words-of";

/** Works out readings, wherever that is done. */
export type FindReadings = (
  hits: readonly FreeHit[],
  meters: readonly Meter[],
  hints: ReadingHints,
) => Promise<readonly Reading[]>;

/** The guesses at how the open phrase was played without a click, and what the player says about them. */
export class ReadingSession extends EchoController {
  private taps: readonly number[] = [];
  private asked = 0;
  /** What was said since the readings that are shown were asked for. */
  private unanswered: ReadingHints = {};

  constructor(
    store: WorkspaceStore,
    private readonly findReadings: FindReadings,
  ) {
    super(store);
  }

  /** Another phrase is open: nothing was said about it. */
  begin(): void {
    this.taps = [];
    this.unanswered = {};
  }

  choose(chosen: number): void {
    this.change({ chosen });
  }

  /** What the player says about the readings; undefined takes it back. */
  hint(hints: OpenEcho["hints"]): void {
    const { openEcho } = this.state;
    if (!openEcho) return;
    this.unanswered = { ...this.unanswered, ...hints };
    this.change({ hints: { ...openEcho.hints, ...hints } });
    void this.read();
  }

  /** Only what was found counts again. */
  forgetHints(): void {
    this.taps = [];
    this.change({ taps: 0 });
    this.hint({ quarterSeconds: undefined, downbeat: undefined, bars: undefined, meter: undefined });
  }

  /** Half or twice as fast; the length in seconds stays. */
  scaleTempo(by: 0.5 | 2): void {
    const said = this.said();
    if (!said) return;
    const { quarterSeconds, bars, downbeat } = said;
    this.hint({ quarterSeconds: quarterSeconds / by, bars: Math.max(1, Math.round(bars * by)), downbeat });
  }

  /** @param by bars more, at the end: the downbeat stays */
  stepBars(by: number): void {
    const said = this.said();
    if (said) this.hint({ bars: Math.max(1, said.bars + by), downbeat: said.downbeat });
  }

  /** @param by steps of the reading's grid later */
  stepDownbeat(by: number): void {
    const said = this.said();
    if (!said) return;
    const { downbeat, bars, quarterSeconds, perQuarter } = said;
    this.hint({ downbeat: downbeat + (by * quarterSeconds) / perQuarter, bars });
  }

  /** Taps along with what is heard say the tempo. */
  tap(timeMs: number): void {
    const meter = this.reading?.meter ?? this.beat.meter;
    this.taps = addTap(this.taps, timeMs);
    this.change({ taps: this.taps.length });
    const tapped = readTaps(this.taps, Math.max(TICKS_PER_QUARTER, pulseTicks(meter)));
    if (tapped) this.hint({ quarterSeconds: 60 / tapped.bpm, bars: undefined });
  }

  /** Works the readings of the open phrase out. */
  async read(): Promise<void> {
    const { openEcho } = this.state;
    if (!openEcho) return;
    const asked = ++this.asked;
    const readings = await this.readingsOf(openEcho);
    const now = this.state.openEcho;
    // The player went on to another phrase, or said more about this one.
    if (asked !== this.asked || now?.whole !== openEcho.whole) return;
    this.unanswered = {};
    this.change({ readings, chosen: nearest(readings, this.reading) });
  }

  /** The readings of a phrase, the best first; none where they can't be worked out. */
  async readingsOf({ echo, hints: { meter, ...hints } }: OpenEcho): Promise<readonly Reading[]> {
    const hits = echo.hits
      .filter(({ masked }) => !masked)
      .map((hit) => ({
        time: hit.timeMs / 1000,
        note: hit.note,
        velocity: hit.velocity,
        ...(this.isTonal(hit) && { tonal: true as const }),
      }));
    const session = this.beat.meter;
    // Who knows one thing better still means the tempo that was chosen.
    const known = Object.values(hints).some((hint) => hint !== undefined);
    const kept = known && this.reading;
    try {
      const meters = meter
        ? groupedAs(meter)
        : [session, ...THINKABLE_METERS.filter((one) => !sameMeter(one, session))];
      return await this.findReadings(hits, meters, { ...hints, ...(kept && { kept }), ...(!meter && { session }) });
    } catch (error) {
      this.set({ notice: `The tempo could not be worked out. ${wordsOf(error)}` });
      return [];
    }
  }

  /** What a stroke says of the bar: a low note of a bass is no kick. */
  private isTonal({ partId, beatId }: LookbackHit): boolean {
    const part = beatId === this.beat.id ? this.beat.parts.find(({ id }) => id === partId) : undefined;
    return part?.kind === "tonal";
  }

  /** The reading, with what was said about it meanwhile. */
  private said() {
    const { reading } = this;
    if (!reading) return undefined;
    const { quarterSeconds = 60 / reading.bpm, downbeat = reading.downbeat, bars = reading.bars } = this.unanswered;
    return { quarterSeconds, downbeat, bars, perQuarter: reading.perQuarter };
  }
}

/** A meter that the player says, in all ways in which its beats may be felt together. */
function groupedAs(meter: Meter): readonly Meter[] {
  const ways = RARE_METERS.filter(({ beats, unit, groups }) => groups && beats === meter.beats && unit === meter.unit);
  return ways.length > 0 ? ways : [meter];
}

/** The reading most like the one that was chosen before. */
function nearest(readings: readonly Reading[], before: Reading | undefined): number {
  if (!before) return 0;
  const apart = ({ downbeat }: Reading) => Math.abs(downbeat - before.downbeat);
  return readings.reduce((best, one, index) => {
    if (!isLike(one, before)) return best;
    return isLike(readings[best]!, before) && apart(readings[best]!) <= apart(one) ? best : index;
  }, 0);
}
