import type { Page } from "@playwright/test";

/** Everything that went to the loudspeaker since the tap was emptied. */
export interface TappedSound {
  /** The frame of the audio clock at which `left[0]` was played. */
  readonly startFrame: number;
  readonly sampleRate: number;
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/** Runs in the audio thread beside the app's own node; knows nothing of the app. */
const TAP_PROCESSOR = `
  const SIZE = 4096;
  registerProcessor("tap", class extends AudioWorkletProcessor {
    constructor() { super(); this.left = new Float32Array(SIZE); this.right = new Float32Array(SIZE); this.used = 0; this.quiet = true; }
    process([input]) {
      const left = input[0], right = input[1] ?? input[0];
      if (!left) return true;
      if (this.used === 0) this.start = currentFrame;
      this.left.set(left, this.used); this.right.set(right, this.used); this.used += left.length;
      const sounds = left.some((sample) => sample !== 0);
      if (sounds && this.quiet) this.port.postMessage({ onsetMs: Date.now() });
      this.quiet = !sounds;
      if (this.used === SIZE) { this.port.postMessage({ start: this.start, left: this.left.slice(), right: this.right.slice() }); this.used = 0; }
      return true;
    }
  });`;

/**
 * Listens in at the audio destination. To be called before the page is opened, in a context with `bypassCSP`: the tap's
 * own code comes from a blob, which the app's policy rightly refuses.
 */
export async function installTap(page: Page): Promise<void> {
  await page.addInitScript((processor) => {
    const tap = { chunks: [] as { start: number; left: Float32Array; right: Float32Array }[], onsetsMs: [] as number[], context: undefined as AudioContext | undefined };
    (window as unknown as { tap: typeof tap }).tap = tap;
    const addModule = AudioWorklet.prototype.addModule;
    AudioWorklet.prototype.addModule = async function (url, options) {
      await addModule.call(this, URL.createObjectURL(new Blob([processor], { type: "text/javascript" })));
      return addModule.call(this, url, options);
    };
    const connect = AudioNode.prototype.connect as (...args: unknown[]) => AudioNode;
    AudioNode.prototype.connect = function (this: AudioNode, ...args: unknown[]) {
      if (args[0] instanceof AudioDestinationNode) {
        tap.context = this.context as AudioContext;
        const node = new AudioWorkletNode(this.context, "tap", { numberOfOutputs: 0 });
        node.port.onmessage = ({ data }) => (data.onsetMs ? tap.onsetsMs.push(data.onsetMs) : tap.chunks.push(data));
        connect.call(this, node);
      }
      return connect.apply(this, args);
    } as typeof AudioNode.prototype.connect;
  }, TAP_PROCESSOR);
}

/** Forgets what was heard so far. */
export function emptyTap(page: Page): Promise<void> {
  return page.evaluate(() => {
    const { tap } = window as unknown as { tap: { chunks: unknown[]; onsetsMs: number[] } };
    tap.chunks.length = 0;
    tap.onsetsMs.length = 0;
  });
}

export async function readTap(page: Page): Promise<TappedSound> {
  const read = await page.evaluate(() => {
    const { tap } = window as unknown as {
      tap: { chunks: { start: number; left: Float32Array; right: Float32Array }[]; context: AudioContext };
    };
    const base64 = (side: "left" | "right") => {
      const bytes = new Uint8Array(tap.chunks.length * 4096 * 4);
      tap.chunks.forEach((chunk, index) => bytes.set(new Uint8Array(chunk[side].buffer), index * 4096 * 4));
      let text = "";
      for (let at = 0; at < bytes.length; at += 0x8000) text += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
      return btoa(text);
    };
    const gaps = tap.chunks.filter((chunk, index) => index > 0 && chunk.start !== tap.chunks[index - 1].start + 4096).length;
    return { start: tap.chunks[0].start, gaps, sampleRate: tap.context.sampleRate, left: base64("left"), right: base64("right") };
  });
  if (read.gaps > 0) throw new Error(`The tap missed ${read.gaps} stretches of sound.`);
  const floats = (text: string) => new Float32Array(new Uint8Array(Buffer.from(text, "base64")).buffer);
  return { startFrame: read.start, sampleRate: read.sampleRate, left: floats(read.left), right: floats(read.right) };
}

/** When sound began after silence, in milliseconds of the wall clock, as the audio thread rendered it. */
export function readOnsets(page: Page): Promise<number[]> {
  return page.evaluate(() => (window as unknown as { tap: { onsetsMs: number[] } }).tap.onsetsMs);
}
