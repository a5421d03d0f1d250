import type { PatternPlace } from "@/core/beat/beat";
import { wholeSpan } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import { eraseSpan } from "@/core/record/erase";
import type { Ticks } from "@/core/time/ticks";
import type { BeatDocument } from "./beat-document";
import type { Audible, Playback } from "./playback";
import { Controller, type WorkspaceStore } from "./controller";
import { spanOf } from "./workspace-state";

/** How often hits that have gone by under a held pad are taken away; their sound is off from the first moment. */
const SWEEP_MS = 40;

/** Since when a pad is held. */
interface HeldSince {
  readonly partId: number;
  readonly run: number;
  readonly ticks: Ticks;
}

/** Erase: what sounds of the pads that are held with it goes, for as long as both are held. */
export class Eraser extends Controller {
  private readonly held = new Map<number, HeldSince | undefined>();
  private timer: ReturnType<typeof setInterval> | undefined;
  private gestures = 0;
  /** The part whose lanes are silent meanwhile. */
  private silenced: number | undefined;

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
    else [...this.held.keys()].forEach((pad) => this.release(pad, timeMs));
    this.set({ erasing: { on, pads: [] } });
  }

  /** A pad is struck while erase is held. With the transport stopped its whole part of the loop goes. */
  press(pad: number, timeMs: number): void {
    const audible = this.playback.audibleAt(timeMs);
    if (!audible || !this.state.transport.running) {
      const span = spanOf(this.state, this.state.place);
      this.erase(new Set([pad]), this.state.place, 0 as Ticks, span.lengthTicks);
      this.held.set(pad, undefined);
    } else {
      this.held.set(pad, sinceOf(audible));
      this.timer ??= setInterval(() => this.sweep(performance.now()), SWEEP_MS);
    }
    this.tell();
  }

  release(pad: number, timeMs: number): void {
    if (!this.held.has(pad)) return;
    this.sweepPad(pad, timeMs);
    this.held.delete(pad);
    if (this.held.size === 0) {
      clearInterval(this.timer);
      this.timer = undefined;
    }
    this.tell();
  }

  /** A rectangle drawn over the lanes, in positions of the pattern; one gesture, one step of undo. */
  eraseRange(pads: ReadonlySet<number>, fromTicks: Ticks, toTicks: Ticks): void {
    const { place, hearing } = this.state;
    const whole = wholeSpan(findPattern(this.beat, place), this.beat.meter);
    const keep = this.state.recording?.passId;
    this.document.edit(
      eraseSpan(this.beat, place, pads, fromTicks, toTicks, whole, hearing, keep),
      "Erase",
      this.key(),
    );
  }

  stop(): void {
    clearInterval(this.timer);
  }

  private sweep(nowMs: number): void {
    this.held.forEach((_, pad) => this.sweepPad(pad, nowMs));
    if (this.silenced !== this.state.place.partId) this.tell();
  }

  private sweepPad(pad: number, nowMs: number): void {
    const since = this.held.get(pad);
    const audible = this.playback.audibleAt(nowMs);
    if (!since || !audible) return;
    this.held.set(pad, sinceOf(audible));
    // Another part is open: of that nothing goes but what comes from here on.
    if (audible.anchor.partId !== since.partId) return;
    // Another pattern has taken over in between: it is erased from where it began.
    const from = audible.anchor.run === since.run ? since.ticks : (0 as Ticks);
    const place = { partId: this.state.place.partId, patternId: audible.anchor.patternId };
    if (place.patternId === this.state.place.patternId) this.erase(new Set([pad]), place, from, audible.ticks);
  }

  private erase(pads: ReadonlySet<number>, place: PatternPlace, from: Ticks, to: Ticks): void {
    const span = spanOf(this.state, place);
    const { hearing } = this.state;
    const keep = this.state.recording?.passId;
    this.document.edit(eraseSpan(this.beat, place, pads, from, to, span, hearing, keep), "Erase", this.key());
  }

  private key(): string {
    return `erase ${this.gestures}`;
  }

  private tell(): void {
    const lanes = [...this.held.keys()];
    const { partId } = this.state.place;
    this.set({ erasing: { ...this.state.erasing, pads: lanes } });
    if (this.silenced !== undefined && this.silenced !== partId)
      this.playback.send({ type: "silence", partId: this.silenced, lanes: [] });
    this.silenced = lanes.length > 0 ? partId : undefined;
    this.playback.send({ type: "silence", partId, lanes });
  }
}

function sinceOf({ ticks, anchor: { partId, run } }: Audible): HeldSince {
  return { partId, run, ticks };
}
