import { emptyTable } from "@/core/sound/event-table";
import { Limiter } from "@/core/sound/limiter";
import { LoudnessMeter } from "@/core/sound/loudness";
import { Player } from "@/core/sound/player";
import type { Ticks } from "@/core/time/ticks";
import { PROCESSOR_NAME, type FromEngine, type ToEngine } from "./protocol";
import { handleMessage } from "./handle-message";

const REPORTS_PER_SECOND = 30;
/** Levels move over a block, and the limiter looks ahead: for so long what was turned down just now is still on its way. */
const ON_ITS_WAY_SECONDS = 0.02;

/** The player in the audio thread: it needs nothing of the page while it runs, so a busy page disturbs no sound. */
class EchoPocketProcessor extends AudioWorkletProcessor {
  private readonly player = new Player(sampleRate, emptyTable(100, { beats: 4, unit: 4 }, 3840 as Ticks), {
    anchor: (anchor) => this.report({ type: "anchor", anchor }),
    queued: (change) => this.report({ type: "queued", ...change }),
    ended: (run) => this.report({ type: "ended", run }),
    repeated: (note) => this.report({ type: "repeated", note }),
  });
  private readonly meter = { type: "meter" as const, peakLeft: 0, peakRight: 0, limited: false, since: 0 };
  private readonly limiter = new Limiter(sampleRate);
  private readonly loudness = new LoudnessMeter(sampleRate);
  private nextReportFrame = 0;
  /** When it is measured anew, and what reports then say. */
  private anew = { frame: Infinity, since: 0 };

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<ToEngine>) => this.receive(data);
  }

  override process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] as [Float32Array, Float32Array];
    if (currentFrame >= this.anew.frame) this.measureAnew();
    this.player.seek(currentFrame);
    this.player.process(left, right, this.loudness);
    if (this.limiter.process(left, right)) this.meter.limited = true;
    for (let index = 0; index < left.length; index++) {
      this.meter.peakLeft = Math.max(this.meter.peakLeft, Math.abs(left[index]!));
      this.meter.peakRight = Math.max(this.meter.peakRight, Math.abs(right![index]!));
    }
    if (currentFrame >= this.nextReportFrame) this.reportMeter();
    return true;
  }

  private receive(order: ToEngine): void {
    this.player.seek(currentFrame);
    if (order.type === "measure")
      this.anew = { frame: currentFrame + ON_ITS_WAY_SECONDS * sampleRate, since: order.since };
    if (order.type === "start") this.loudness.reset();
    handleMessage(this.player, order);
  }

  private measureAnew(): void {
    this.takeMeter();
    this.loudness.reset();
    this.meter.since = this.anew.since;
    this.anew.frame = Infinity;
  }

  /** What was measured since the last time this was asked. */
  private takeMeter() {
    const taken = { ...this.meter, parts: this.player.takePeaks(), overDb: this.limiter.takeReduction() };
    this.meter.peakLeft = 0;
    this.meter.peakRight = 0;
    this.meter.limited = false;
    return taken;
  }

  private reportMeter(): void {
    const { momentary: momentaryLufs, integrated: integratedLufs } = this.loudness;
    this.report({ ...this.takeMeter(), momentaryLufs, integratedLufs });
    this.nextReportFrame = currentFrame + sampleRate / REPORTS_PER_SECOND;
  }

  private report(message: FromEngine): void {
    this.port.postMessage(message);
  }
}

registerProcessor(PROCESSOR_NAME, EchoPocketProcessor);
