import { buffersOf } from "@/core/sound/player/event-table";
import { limiterDelayFrames } from "@/core/sound/mix/limiter-delay";
import { AudioClock } from "./audio-clock";
import { PROCESSOR_NAME, PROCESSOR_URL, type FromEngine, type ToEngine } from "./protocol";

const CLOCK_INTERVAL_MS = 40;
/** Longer than this nothing waits for the clock: a device that never agrees with itself is taken as it is. */
const SETTLE_LIMIT_MS = 1000;

/** What the rest of the app needs of the sound; tests of the store bring their own. */
export interface Engine {
  readonly sampleRate: number;
  /** False while the browser waits for a gesture, or has stopped the sound. */
  readonly running: boolean;
  readonly outputLatencyMs: number;
  /** The frame that was audible at a moment of `performance.now()`, with its fraction. */
  audibleFrameAt(performanceMs: number): number;
  /** Does something once the clock can be trusted: mostly at once, else when two readings agree, in the order asked. */
  whenSettled(work: () => void): void;
  /** Runs the waiting work now, with the best reading there is. */
  settleNow(): void;
  resume(): Promise<void>;
  /** Orders are taken one after the other, between two blocks. */
  send(order: ToEngine): void;
  /** @returns the undo of the subscription */
  subscribe(listener: (message: FromEngine) => void): () => void;
  onRunningChange(listener: () => void): () => void;
  /** The sound has ended for good: the audio thread failed, or the browser closed it. */
  onEnded(listener: () => void): () => void;
  close(): Promise<void>;
}

/** Starts the audio thread. @throws the browser's error when it has no Web Audio or refuses the module */
export async function startAudioEngine(): Promise<Engine> {
  const context = new AudioContext({ latencyHint: "interactive" });
  try {
    await context.audioWorklet.addModule(PROCESSOR_URL);
    const node = new AudioWorkletNode(context, PROCESSOR_NAME, { numberOfInputs: 0, outputChannelCount: [2] });
    node.connect(context.destination);
    return new WorkletEngine(context, node);
  } catch (error) {
    await context.close();
    throw error;
  }
}

/** The memory of the tables in an order, which is handed over. */
function buffersIn(order: ToEngine): ArrayBuffer[] {
  const tables = order.type === "tables" ? order.tables : order.type === "queue" ? [order.table] : [];
  return tables.flatMap(buffersOf);
}

class WorkletEngine implements Engine {
  private readonly clock = new AudioClock();
  private readonly timer: ReturnType<typeof setInterval>;
  private readonly endListeners = new Set<() => void>();
  private waiting: (() => void)[] = [];
  private waitingSinceMs = 0;
  private closing = false;

  constructor(
    private readonly context: AudioContext,
    private readonly node: AudioWorkletNode,
  ) {
    this.timer = setInterval(() => this.tick(), CLOCK_INTERVAL_MS);
    context.addEventListener("statechange", this.followState);
    node.addEventListener("processorerror", this.end);
    // Another loudspeaker has another delay.
    globalThis.navigator?.mediaDevices?.addEventListener("devicechange", this.forgetClock);
  }

  get sampleRate(): number {
    return this.context.sampleRate;
  }

  get running(): boolean {
    return this.context.state === "running";
  }

  get outputLatencyMs(): number {
    return (this.context.outputLatency || this.context.baseLatency || 0) * 1000;
  }

  audibleFrameAt(performanceMs: number): number {
    this.readClock();
    const seconds = this.clock.audibleSecondsAt(performanceMs) ?? this.context.currentTime;
    const { sampleRate } = this.context;
    return seconds * sampleRate - limiterDelayFrames(sampleRate);
  }

  whenSettled(work: () => void): void {
    this.readClock();
    if (this.clock.settled && this.waiting.length === 0) return work();
    if (this.waiting.length === 0) this.waitingSinceMs = performance.now();
    this.waiting.push(work);
  }

  async resume(): Promise<void> {
    if (!this.running && this.context.state !== "closed") await this.context.resume();
  }

  send(order: ToEngine): void {
    this.node.port.postMessage(order, buffersIn(order));
  }

  subscribe(listener: (message: FromEngine) => void): () => void {
    const receive = ({ data }: MessageEvent<FromEngine>) => listener(data);
    this.node.port.addEventListener("message", receive);
    this.node.port.start();
    return () => this.node.port.removeEventListener("message", receive);
  }

  onRunningChange(listener: () => void): () => void {
    this.context.addEventListener("statechange", listener);
    return () => this.context.removeEventListener("statechange", listener);
  }

  onEnded(listener: () => void): () => void {
    this.endListeners.add(listener);
    return () => this.endListeners.delete(listener);
  }

  async close(): Promise<void> {
    this.closing = true;
    clearInterval(this.timer);
    this.settleNow();
    globalThis.navigator?.mediaDevices?.removeEventListener("devicechange", this.forgetClock);
    this.node.disconnect();
    if (this.context.state !== "closed") await this.context.close();
  }

  private readonly followState = () => {
    if (this.closing) return;
    this.forgetClock();
    if (this.context.state === "closed") this.end();
    // Stopped from outside, by sleep or a call: it goes on as soon as the browser lets it.
    else if (!this.running) void this.context.resume().catch(() => undefined);
  };

  private readonly end = () => {
    if (this.closing) return;
    // What was struck last belongs to what is being recorded.
    this.settleNow();
    this.endListeners.forEach((listener) => listener());
  };

  private readonly forgetClock = () => this.clock.reset(performance.now());

  private tick(): void {
    this.readClock();
    if (this.waiting.length === 0) return;
    if (this.clock.settled || performance.now() - this.waitingSinceMs > SETTLE_LIMIT_MS) this.settleNow();
  }

  settleNow(): void {
    const { waiting } = this;
    this.waiting = [];
    waiting.forEach((work) => work());
  }

  private readClock(): void {
    if (!this.running) return;
    const { contextTime, performanceTime } = this.context.getOutputTimestamp();
    // Quirk: Chromium gives zeros until the device has played its first buffer.
    if (contextTime && performanceTime) this.clock.observe(contextTime, performanceTime);
    else this.clock.observe(this.context.currentTime - this.outputLatencyMs / 1000, performance.now());
  }
}
