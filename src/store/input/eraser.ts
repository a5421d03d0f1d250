import type { PatternRef } from "@/core/beat/beat";
import { wholeSpan } from "@/core/beat/beat";
import { findPart, findPattern, knownPart } from "@/core/beat/edit";
import { eraseSpan } from "@/core/record/erase";
import { asTicks, type Ticks } from "@/core/time/ticks";
import type { BeatDocument } from "../document/beat-document";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { Playback } from "../engine/playback";
import type { Audible } from "../engine/stretch";
import { placeOf, spanOf } from "../state/workspace-state";

/** How often hits that have gone by under a held pad are taken away; their sound is off from the first moment. */
const SWEEP_MS = 40;

/** Since when a lane is erased; without a moment its whole part of the loop went at once. */
interface HeldSince {
  readonly segment: number;
  readonly ticks: Ticks;
}

/** Erase: what sounds of the pads that are held with it goes, for as long as both are held. */
export class Eraser extends Controller {
  /** By part, the lanes that are down. */
  private readonly down = new Map<number, Set<number>>();
  /** By part, the lanes that are erased: those that are down, and of notes all between them. */
  private readonly erased = new Map<number, Map<number, HeldSince | undefined>>();
  private timer: ReturnType<typeof setInterval> | undefined;
  private gestures = 0;

  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
    private readonly document: BeatDocument,
  ) {
    super(store);
  }

  /** Erase goes down or up. */
  hold(on: boolean, timeMs: number): void {
    if (on === this.state.erasing.on) return;
    if (on) this.gestures++;
    else for (const [partId, lanes] of this.down) [...lanes].forEach((lane) => this.release(partId, lane, timeMs));
    this.set({ erasing: { on, lanes: {} } });
  }

  /** A pad is struck while erase is held. With the transport stopped its whole part of the loop goes. */
  press(partId: number, lane: number, timeMs: number): void {
    this.down.set(partId, (this.down.get(partId) ?? new Set()).add(lane));
    this.follow(partId, timeMs);
  }

  release(partId: number, lane: number, timeMs: number): void {
    if (!this.down.get(partId)?.delete(lane)) return;
    this.follow(partId, timeMs);
  }

  /** A rectangle drawn over the lanes, in positions of the pattern; one gesture, one step of undo. */
  eraseRange(pads: ReadonlySet<number>, fromTicks: Ticks, toTicks: Ticks): void {
    const { patternRef, timingView } = this.state;
    const whole = wholeSpan(findPattern(this.beat, patternRef), this.beat.meter);
    const keep = this.openPass(patternRef.partId);
    this.document.edit(
      eraseSpan(this.beat, patternRef, pads, fromTicks, toTicks, whole, timingView, keep),
      "Erase",
      this.key(),
    );
  }

  stop(): void {
    clearInterval(this.timer);
  }

  /** Begins and ends lanes of a part as its pads go down and up. */
  private follow(partId: number, timeMs: number): void {
    if (!knownPart(this.beat, partId)) return this.forget(partId);
    const erased = this.erased.get(partId) ?? new Map<number, HeldSince | undefined>();
    this.erased.set(partId, erased);
    const lanes = this.lanesBetween(partId);
    for (const lane of [...erased.keys()]) {
      if (lanes.has(lane)) continue;
      this.sweepLane(partId, lane, timeMs);
      erased.delete(lane);
    }
    for (const lane of lanes) if (!erased.has(lane)) erased.set(lane, this.begin(partId, lane, timeMs));
    this.keepSweeping();
    this.tell(partId);
  }

  /** Of notes, all from the lowest to the highest that is down. */
  private lanesBetween(partId: number): ReadonlySet<number> {
    const down = this.down.get(partId) ?? new Set<number>();
    if (findPart(this.beat, partId).kind === "kit" || down.size < 2) return new Set(down);
    const lowest = Math.min(...down);
    return new Set(Array.from({ length: Math.max(...down) - lowest + 1 }, (_, above) => lowest + above));
  }

  private begin(partId: number, lane: number, timeMs: number): HeldSince | undefined {
    const audible = this.playback.audibleAt(timeMs, partId);
    if (audible && this.state.transport.running) return sinceOf(audible);
    const patternRef = placeOf(this.state, partId);
    this.erase(lane, patternRef, asTicks(0), spanOf(this.state, patternRef).lengthTicks);
    return undefined;
  }

  private keepSweeping(): void {
    const sweeps = [...this.erased.values()].some((lanes) => [...lanes.values()].some((since) => since !== undefined));
    if (sweeps) this.timer ??= setInterval(() => this.sweep(performance.now()), SWEEP_MS);
    else {
      clearInterval(this.timer);
      this.timer = undefined;
    }
  }

  private sweep(nowMs: number): void {
    for (const [partId, lanes] of this.erased) for (const lane of lanes.keys()) this.sweepLane(partId, lane, nowMs);
  }

  private sweepLane(partId: number, lane: number, nowMs: number): void {
    if (!knownPart(this.beat, partId)) return this.forget(partId);
    const since = this.erased.get(partId)?.get(lane);
    const audible = this.playback.audibleAt(nowMs, partId);
    if (!since || !audible) return;
    this.erased.get(partId)!.set(lane, sinceOf(audible));
    // Another pattern has taken over in between: it is erased from where it began.
    const from = audible.anchor.segment === since.segment ? since.ticks : asTicks(0);
    const patternRef = placeOf(this.state, partId);
    if (audible.anchor.patternId === patternRef.patternId) this.erase(lane, patternRef, from, audible.ticks);
  }

  /** The part was taken away while pads of it were held. */
  private forget(partId: number): void {
    this.down.delete(partId);
    this.erased.delete(partId);
    this.keepSweeping();
  }

  private erase(lane: number, patternRef: PatternRef, from: Ticks, to: Ticks): void {
    const span = spanOf(this.state, patternRef);
    const { timingView } = this.state;
    const keep = this.openPass(patternRef.partId);
    this.document.edit(
      eraseSpan(this.beat, patternRef, new Set([lane]), from, to, span, timingView, keep),
      "Erase",
      this.key(),
    );
  }

  private openPass(partId: number): number | undefined {
    return this.state.recordings[partId]?.passId;
  }

  private key(): string {
    return `erase ${this.gestures}`;
  }

  private tell(partId: number): void {
    const lanes = [...(this.erased.get(partId)?.keys() ?? [])];
    const { erasing } = this.state;
    this.set({ erasing: { ...erasing, lanes: { ...erasing.lanes, [partId]: lanes } } });
    this.playback.send({ type: "silence", partId, lanes });
  }
}

function sinceOf({ ticks, anchor: { segment } }: Audible): HeldSince {
  return { segment, ticks };
}
