import { emptyTable } from "@/core/sound/player/event-table";
import { newKernel } from "@/core/sound/kernel/new-kernel";
import { Player } from "@/core/sound/player/player";
import { asTicks } from "@/core/time/ticks";
import { PROCESSOR_NAME, type FromEngine, type MeterReport, type ToEngine } from "./protocol";
import { handleMessage } from "./handle-message";
import { isWorthReporting } from "./worth-reporting";
import { OutputMeter } from "./output-meter";

const REPORTS_PER_SECOND = 30;
/** Room for two kits and some voices at 48 kHz, which systems give as it is used; what is beyond is read from elsewhere. */
const SAMPLE_BYTES = 128 * 2 ** 20;

/** The player in the audio thread: it needs nothing of the page while it runs, so a busy page disturbs no sound. */
class EchoPocketProcessor extends AudioWorkletProcessor {
  private readonly player = new Player(
    sampleRate,
    emptyTable(100, { beats: 4, unit: 4 }, asTicks(3840)),
    {
      anchor: (anchor) => this.report({ type: "anchor", anchor }),
      queued: (change) => this.report({ type: "queued", ...change }),
      ended: (segment) => this.report({ type: "ended", segment }),
      repeated: (note) => this.report({ type: "repeated", note }),
    },
    newKernel(sampleRate, SAMPLE_BYTES),
  );
  private readonly meter = new OutputMeter(sampleRate);
  private nextReportFrame = 0;
  private reported: MeterReport | undefined;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<ToEngine>) => this.receive(data);
  }

  override process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] as [Float32Array, Float32Array];
    if (this.meter.begin(currentFrame)) this.player.takePeaks();
    this.player.seek(currentFrame);
    this.player.process(left, right, this.meter.loudness);
    this.meter.process(left, right);
    if (currentFrame >= this.nextReportFrame) this.reportMeter();
    return true;
  }

  private receive(order: ToEngine): void {
    this.player.seek(currentFrame);
    if (order.type === "measure") this.meter.measure(order.since, currentFrame);
    if (order.type === "start") this.meter.loudness.reset();
    handleMessage(this.player, order);
  }

  private reportMeter(): void {
    const message = { type: "meter" as const, ...this.meter.take(), parts: this.player.takePeaks() };
    this.nextReportFrame = currentFrame + sampleRate / REPORTS_PER_SECOND;
    if (!isWorthReporting(message, this.reported)) return;
    this.reported = message;
    this.report(message);
  }

  private report(message: FromEngine): void {
    this.port.postMessage(message);
  }
}

registerProcessor(PROCESSOR_NAME, EchoPocketProcessor);
