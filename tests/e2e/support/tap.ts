import type { Page } from "@playwright/test";
import { playOn } from "./loudspeaker";

/** Everything that went to the loudspeaker since the tap was emptied. */
export interface TappedSound {
  /** The frame of the audio clock at which `left[0]` was played. */
  readonly startFrame: number;
  readonly sampleRate: number;
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/** A moment in the audio thread: by the wall clock, and by the frame. */
export interface Onset {
  readonly onsetMs: number;
  readonly onsetFrame: number;
}

/** What the tap leaves in the page. */
export interface Tap {
  chunks: { start: number; left: Float32Array; right: Float32Array }[];
  onsets: Onset[];
  keys: Onset[];
  context: AudioContext;
}

const CHUNK_FRAMES = 4096;

/** Runs in the audio thread beside the app's own node; knows nothing of the app. */
const TAP_PROCESSOR = `
  const SIZE = ${CHUNK_FRAMES};
  registerProcessor("tap", class extends AudioWorkletProcessor {
    constructor() { super(); this.left = new Float32Array(SIZE); this.right = new Float32Array(SIZE); this.used = 0; this.quiet = true; }
    process([input], [output]) {
      const left = input[0], right = input[1] ?? input[0];
      if (!left) return true;
      output[0].set(left); output[1].set(right);
      if (this.used > 0 && currentFrame !== this.start + this.used) this.send();
      if (this.used === 0) this.start = currentFrame;
      this.left.set(left, this.used); this.right.set(right, this.used); this.used += left.length;
      const first = left.findIndex((sample) => sample !== 0);
      if (first >= 0 && this.quiet) this.port.postMessage({ onsetMs: Date.now(), onsetFrame: currentFrame + first });
      this.quiet = first < 0;
      if (this.used === SIZE) this.send();
      return true;
    }
    // Full, or up to where quanta were left out; what follows is sent on its own.
    send() {
      this.left.fill(0, this.used); this.right.fill(0, this.used); this.used = 0;
      this.port.postMessage({ start: this.start, left: this.left.slice(), right: this.right.slice() });
    }
  });
  registerProcessor("peer", class extends AudioWorkletProcessor {
    constructor() { super(); this.port.onmessage = () => this.port.postMessage({ onsetMs: Date.now(), onsetFrame: currentFrame }); }
    process() { return true; }
  });`;

/**
 * Listens in at the audio destination. To be called before the page is opened, in a context with `bypassCSP`: the tap's
 * own code comes from a blob, which the app's policy rightly refuses. It also brings a peer: a bare node that only notes
 * when a key's message reached the audio thread, which is the best that any app could do.
 */
export async function installTap(page: Page): Promise<void> {
  await page.addInitScript((processor) => {
    const tap: Omit<Tap, "context"> & { context?: AudioContext } = { chunks: [], onsets: [], keys: [] };
    (window as unknown as { tap: typeof tap }).tap = tap;
    const addModule = AudioWorklet.prototype.addModule;
    AudioWorklet.prototype.addModule = async function (url, options) {
      await addModule.call(this, URL.createObjectURL(new Blob([processor], { type: "text/javascript" })));
      return addModule.call(this, url, options);
    };
    const connect = AudioNode.prototype.connect as (...args: unknown[]) => AudioNode;
    AudioNode.prototype.connect = function (this: AudioNode, ...args: unknown[]) {
      if (!(args[0] instanceof AudioDestinationNode)) return connect.apply(this, args);
      tap.context = this.context as AudioContext;
      // In line with the sound: a node beside it, which nothing needs, is left out when the browser is short of time.
      const node = new AudioWorkletNode(this.context, "tap", { outputChannelCount: [2] });
      node.port.onmessage = ({ data }) => (data.onsetMs ? tap.onsets.push(data) : tap.chunks.push(data));
      connect.call(this, node);
      connect.call(node, args[0]);
      const peer = new AudioWorkletNode(this.context, "peer", { numberOfInputs: 0 });
      peer.port.onmessage = ({ data }) => tap.keys.push(data);
      connect.call(peer, args[0]);
      window.addEventListener("keydown", () => peer.port.postMessage(0), true);
      return args[0];
    } as typeof AudioNode.prototype.connect;
  }, TAP_PROCESSOR);
}

/** Forgets what was heard so far. */
export function emptyTap(page: Page): Promise<void> {
  return page.evaluate(() => {
    const { tap } = window as unknown as { tap: Tap };
    tap.chunks = [];
    tap.onsets = [];
    tap.keys = [];
  });
}

/** Where a starved browser left out some quanta, there is silence, so that what follows stands at its frame. */
export async function readTap(page: Page): Promise<TappedSound> {
  const read = await page.evaluate((size) => {
    const { tap } = window as unknown as { tap: Tap };
    const first = tap.chunks[0]!.start;
    const frames = tap.chunks.at(-1)!.start - first + size;
    const base64 = (side: "left" | "right") => {
      const samples = new Float32Array(frames);
      for (const chunk of tap.chunks) samples.set(chunk[side], chunk.start - first);
      const bytes = new Uint8Array(samples.buffer);
      let text = "";
      for (let at = 0; at < bytes.length; at += 0x8000) text += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
      return btoa(text);
    };
    return { start: first, sampleRate: tap.context.sampleRate, left: base64("left"), right: base64("right") };
  }, CHUNK_FRAMES);
  const floats = (text: string) => new Float32Array(new Uint8Array(Buffer.from(text, "base64")).buffer);
  return { startFrame: read.start, sampleRate: read.sampleRate, left: floats(read.left), right: floats(read.right) };
}

/** When sound began after silence, and when the messages of keys reached the audio thread. */
export function readOnsets(page: Page): Promise<{ onsets: Onset[]; keys: Onset[] }> {
  return page.evaluate(() => {
    const { onsets, keys } = (window as unknown as { tap: Tap }).tap;
    return { onsets, keys };
  });
}

/** How much has been played since the first sound. */
export function heardMs(page: Page): Promise<number> {
  return page.evaluate(() => {
    const { chunks, context } = (window as unknown as { tap: Tap }).tap;
    const first = chunks.find(({ left }) => left.some((sample) => sample !== 0));
    return first ? ((chunks.at(-1)!.start - first.start) * 1000) / context.sampleRate : 0;
  });
}

/** Lets sound be played until there is so much since the first of it. */
export async function waitForSound(page: Page, lengthMs: number): Promise<void> {
  for (let ms = 0; ms < lengthMs; ms = await heardMs(page)) await playOn(page, lengthMs - ms + 50);
}

/** True when nothing has sounded for a tenth of a second, and what sounded last was not on its way here. */
export function isSilent(page: Page): Promise<boolean> {
  return page.evaluate(() => {
    const { chunks, onsets } = (window as unknown as { tap: Tap }).tap;
    const last = chunks.at(-1);
    const soundedFrame = onsets.at(-1)?.onsetFrame ?? -1;
    return !!last && last.start > soundedFrame && last.left.every((sample) => sample === 0);
  });
}
