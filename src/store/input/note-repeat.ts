import type { RepeatHold } from "@/core/sound/player/note-repeater";
import { asTicks, TICKS_PER_QUARTER } from "@/core/time/ticks";
import { rateTicks, type RepeatRate } from "@/inputs/commands";
import type { Playback } from "../engine/playback";
import { Controller, type WorkspaceStore } from "../state/controller";

/** Softest note of a rise or a fall, against the stroke. */
const RAMP_FLOOR = 0.25;

/** A pad that is down, and the part in which it was struck: it is let go there, whichever is open by then. */
interface HeldPad {
  readonly hold: RepeatHold;
  readonly partId: number;
}

/** Note repeat as hands use it: a rate that is held or latched, and the pads that are held with it. */
export class NoteRepeat extends Controller {
  /** By part and pad. */
  private readonly heldPads = new Map<string, HeldPad>();
  private heldRates: readonly RepeatRate[] = [];
  private latched: RepeatRate | undefined;

  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
  ) {
    super(store);
  }

  /** A rate goes down or up; of several the last one counts. */
  hold(partId: number, hold: RepeatHold): boolean {
    const held = { hold, partId };
    this.heldPads.set(`${partId} ${hold.lane}`, held);
    if (!this.state.repeat.rate) return false;
    this.sendHold(held);
    return true;
  }

  release(partId: number, lane: number): void {
    const held = this.heldPads.delete(`${partId} ${lane}`);
    if (held && this.state.repeat.rate) this.playback.send({ type: "release", partId, lane });
  }

  press(partId: number, lane: number, velocity: number): void {
    const held = this.heldPads.has(`${partId} ${lane}`);
    if (held && this.state.repeat.rate && this.state.settings.repeatLevel === "pressure")
      this.playback.send({ type: "press", partId, lane, velocity });
  }

  holdRate(rate: RepeatRate, down: boolean): void {
    const others = this.heldRates.filter((held) => held !== rate);
    this.heldRates = down ? [...others, rate] : others;
    this.follow();
  }

  /** Keeps a rate on without its key; the same one again lets it go. */
  toggleLatch(rate: RepeatRate | undefined = this.state.repeat.rate): void {
    this.latched = this.latched === rate ? undefined : rate;
    this.follow();
  }

  private follow(): void {
    const before = this.state.repeat.rate;
    const rate = this.heldRates.at(-1) ?? this.latched;
    this.set({ repeat: { rate, latched: this.latched !== undefined } });
    if (rate === before) return;
    this.playback.send({ type: "rate", stepTicks: asTicks(rate ? rateTicks(rate) : 0) });
    // Pads that are down already join in.
    if (!before && rate) this.heldPads.forEach((held) => this.sendHold(held));
  }

  private sendHold({ hold, partId }: HeldPad): void {
    this.playback.send({ type: "hold", partId, hold: this.withRamp(hold) });
  }

  private withRamp(hold: RepeatHold): RepeatHold {
    const { repeatLevel, repeatRampBeats } = this.state.settings;
    if (repeatLevel !== "rise" && repeatLevel !== "fall") return hold;
    const [fromRatio, toRatio] = repeatLevel === "rise" ? [RAMP_FLOOR, 1] : [1, RAMP_FLOOR];
    return { ...hold, ramp: { fromRatio, toRatio, overTicks: repeatRampBeats * TICKS_PER_QUARTER } };
  }
}
