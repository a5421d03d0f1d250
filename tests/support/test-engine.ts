import type { EventTable } from "@/core/sound/player/event-table";
import { emptyTable } from "@/core/sound/player/event-table";
import { Player } from "@/core/sound/player/player";
import type { Ticks } from "@/core/time/ticks";
import type { Engine } from "@/engine/audio-engine";
import type { FromEngine, ToEngine } from "@/engine/protocol";
import { handleMessage } from "@/engine/handle-message";
import { impulse, impulseNotes, RATE } from "./player-probe";

const BLOCK = 128;

/** The real player, without an audio thread: its clock goes on only when the test says so. */
export class TestEngine implements Engine {
  readonly sampleRate = RATE;
  readonly running = true;
  readonly orders: ToEngine[] = [];
  /** Where something sounded, as frames. */
  readonly heardFrames: number[] = [];
  private listener: (message: FromEngine) => void = () => {};
  private frame = 0;
  private held: ToEngine[] | undefined;
  private answers: FromEngine[] = [];
  private readonly player = new Player(RATE, emptyTable(100, { beats: 4, unit: 4 }, 3840 as Ticks), {
    anchor: (anchor) => this.answer({ type: "anchor", anchor }),
    queued: (change) => this.answer({ type: "queued", ...change }),
    ended: (segment) => this.answer({ type: "ended", segment }),
    repeated: (note) => this.answer({ type: "repeated", note }),
  });

  /**
   * @param outputLatencyMs from the player's clock to the ear
   * @param startMs what the page's clock says at the start
   * @param answering "late": orders are carried out with the next block and answered after it, as by the audio thread
   */
  constructor(
    readonly outputLatencyMs = 0,
    startMs = 0,
    private readonly answering: "late" | "at once" = "at once",
  ) {
    if (answering === "late") this.held = [];
    this.frame = (startMs * RATE) / 1000;
    this.player.addSounds(impulse.sounds);
    this.player.addSounds(impulseNotes);
  }

  /** What all parts play. */
  get playing(): readonly EventTable[] {
    return this.player.allPlaying;
  }

  get table(): EventTable {
    return this.player.playing;
  }

  /** The lanes that were struck, not those that playback or repeats made. */
  get hits(): readonly number[] {
    return this.orders.flatMap((order) => (order.type === "hit" ? [order.lane] : []));
  }

  get click() {
    return this.last("click").click;
  }

  /** The last order of a kind. */
  last<T extends ToEngine["type"]>(type: T): Extract<ToEngine, { type: T }> {
    return this.orders.findLast((order) => order.type === type) as Extract<ToEngine, { type: T }>;
  }

  /** Makes sound up to a moment of the page's clock. */
  advanceTo(performanceMs: number): void {
    const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
    const end = (performanceMs * RATE) / 1000;
    if (this.answering === "late" && this.frame < end) this.holdOrders();
    for (; this.frame < end; this.frame += BLOCK) {
      this.player.seek(this.frame);
      this.player.process(left, right);
      // A call for each of half an hour's samples would take longer than making them.
      for (let at = 0; at < BLOCK; at++) if (left[at] !== 0) this.heardFrames.push(this.frame + at);
    }
    const { answers } = this;
    this.answers = [];
    answers.forEach((message) => this.listener(message));
  }

  audibleFrameAt(performanceMs: number): number {
    return ((performanceMs - this.outputLatencyMs) * RATE) / 1000;
  }

  /** Orders wait, as they do while the audio thread makes a long block. */
  holdOrders(hold = true): void {
    const held = this.held;
    this.held = hold ? [] : undefined;
    held?.forEach((order) => this.carryOut(order));
  }

  send(order: ToEngine): void {
    this.orders.push(order);
    if (this.held) this.held.push(order);
    else this.carryOut(order);
  }

  private carryOut(order: ToEngine): void {
    this.player.seek(this.frame);
    handleMessage(this.player, order);
  }

  private answer(message: FromEngine): void {
    if (this.answering === "late") this.answers.push(message);
    else this.listener(message);
  }

  subscribe(listener: (message: FromEngine) => void): () => void {
    this.listener = listener;
    return () => {};
  }

  /** What waits for the clock, while it can't be trusted. */
  waiting: (() => void)[] | undefined;

  whenSettled(work: () => void): void {
    if (this.waiting) this.waiting.push(work);
    else work();
  }

  /** The clock can be trusted again. */
  settle(): void {
    const { waiting = [] } = this;
    this.waiting = undefined;
    waiting.forEach((work) => work());
  }

  settleNow(): void {
    const { waiting = [] } = this;
    if (this.waiting) this.waiting = [];
    waiting.forEach((work) => work());
  }

  resume = () => Promise.resolve();
  onRunningChange = () => () => {};
  /** The audio thread fails. */
  end = () => {};

  onEnded(listener: () => void): () => void {
    this.end = listener;
    return () => {};
  }
  close = () => Promise.resolve();
}
