import { AudioClock } from "./audio-clock";
import { PROCESSOR_NAME, PROCESSOR_URL, type FromEngine, type ToEngine } from "./protocol";

const CLOCK_INTERVAL_MS = 40;

/** What the rest of the app needs of the sound; tests of the store bring their own. */
export interface Engine {
  readonly sampleRate: number;
  /** False while the browser waits for a gesture. */
  readonly running: boolean;
  readonly outputLatencyMs: number;
  /** The frame that was audible at a moment of `performance.now()`, with its fraction. */
  audibleFrameAt(performanceMs: number): number;
  resume(): Promise<void>;
  /** Orders are taken one after the other, between two blocks. */
  send(order: ToEngine): void;
  /** @returns the undo of the subscription */
  subscribe(listener: (message: FromEngine) => void): () => void;
  onRunningChange(listener: () => void): () => void;
  close(): Promise<void>;
}

/** Starts the audio thread. @throws the browser's error when it has no Web Audio or refuses the module */
export async function startAudioEngine(): Promise<Engine> {
  const context = new AudioContext({ latencyHint: "interactive" });
  await context.audioWorklet.addModule(PROCESSOR_URL);
  const node = new AudioWorkletNode(context, PROCESSOR_NAME, { numberOfInputs: 0, outputChannelCount: [2] });
  node.connect(context.destination);
  return new WorkletEngine(context, node);
}

class WorkletEngine implements Engine {
  private readonly clock = new AudioClock();
  private readonly timer: ReturnType<typeof setInterval>;

  constructor(
    private readonly context: AudioContext,
    private readonly node: AudioWorkletNode,
  ) {
    this.timer = setInterval(() => this.readClock(), CLOCK_INTERVAL_MS);
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
    return seconds * this.context.sampleRate;
  }

  async resume(): Promise<void> {
    if (this.context.state !== "running") await this.context.resume();
  }

  send(order: ToEngine): void {
    this.node.port.postMessage(order);
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

  async close(): Promise<void> {
    clearInterval(this.timer);
    this.node.disconnect();
    await this.context.close();
  }

  private readClock(): void {
    if (!this.running) return;
    const { contextTime, performanceTime } = this.context.getOutputTimestamp();
    // Quirk: Chromium gives zeros until the device has played its first buffer.
    if (contextTime && performanceTime) this.clock.observe(contextTime, performanceTime);
    else this.clock.observe(this.context.currentTime - this.outputLatencyMs / 1000, performance.now());
  }
}
