import { execFileSync, spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const folder = mkdtempSync(join(tmpdir(), "pocket-reference-"));

/** Writes bytes to a file that outside tools can read. */
export function fileOf(name: string, bytes: Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
}

/** What mido finds in a file: notes are [track, tick, channel, note, velocity]. */
export interface MidoFile {
  readonly type: number;
  readonly ppq: number;
  readonly notes: readonly [number, number, number, number, number][];
  /** The notes that end, with their lengths; of several on one key the first that began ends first. */
  readonly lengths: readonly [number, number, number, number, number, number][];
  /** [tick, channel, program] */
  readonly programs: readonly [number, number, number][];
  /** [tick, channel, number, value] */
  readonly controllers: readonly [number, number, number, number][];
  readonly tempos: readonly [number, number][];
  readonly meters: readonly [number, number, number][];
  readonly ends: readonly [string, number][];
  /** Until the last end of a track; only for files of less than 2,000 notes. */
  readonly seconds: number;
  readonly refused?: string;
}

/** Debian's python3, the one that has Debian's mido. */
export function readWithMido(paths: readonly string[]): MidoFile[] {
  const output = execFileSync("/usr/bin/python3", ["tests/reference/support/read_midi.py", ...paths], {
    encoding: "utf8",
    maxBuffer: 1 << 28,
  });
  return output
    .trim()
    .split("\n")
    .map((line) => JSON.parse(line));
}

/** Milliseconds of processor time that each file takes as a beat, as strokes, and retimed. */
export function timesOfMidi(paths: readonly string[]): readonly (readonly number[])[] {
  const script = "tests/reference/support/time_midi.ts";
  const output = execFileSync("node_modules/.bin/tsx", [script, ...paths], { encoding: "utf8" });
  return output
    .trim()
    .split("\n")
    .map((line) => JSON.parse(line) as number[]);
}

/** Note-ons as midicsv prints them: [track, tick, channel, note, velocity]; its tracks count from 1. */
export function readWithMidicsv(path: string): number[][] {
  const { stdout } = spawnSync("midicsv", [path], { encoding: "latin1", timeout: 5000, maxBuffer: 1 << 26 });
  return stdout
    .split("\n")
    .map((line) => line.split(", "))
    .filter((fields) => fields[2] === "Note_on_c" && fields[5] !== "0")
    .map(([track, tick, , channel, note, velocity]) => [
      Number(track) - 1,
      Number(tick),
      Number(channel),
      Number(note),
      Number(velocity),
    ]);
}

export function sndfileInfo(path: string): string {
  return execFileSync("sndfile-info", [path], { encoding: "utf8" });
}

/** Decodes with sox, without dither, to raw little-endian samples of `bits`. */
export function soxSamples(path: string, bits: 16 | 24 | 32): Buffer {
  const type = bits === 32 ? "f32" : `s${bits}`;
  return execFileSync("sox", ["-D", path, "-t", type, "-"], { maxBuffer: 1 << 28 });
}

/** Plays a MIDI file with FluidSynth and Debian's small sound font; 48 kHz, 16 bit stereo. */
export function playWithFluidsynth(midiPath: string): Float32Array {
  const font = execFileSync("dpkg", ["-L", "timgm6mb-soundfont"], { encoding: "utf8" })
    .split("\n")
    .find((line) => line.endsWith(".sf2"))!;
  const out = midiPath.replace(/\.mid$/, ".fluid.wav");
  execFileSync(
    "fluidsynth",
    ["-ni", "-q", "-R", "0", "-C", "0", "-g", "1", "-r", "48000", "-T", "wav", "-O", "s16", "-F", out, font, midiPath],
    { stdio: "ignore" },
  );
  return monoOf(soxSamples(out, 32));
}

/** The mean of the sides of raw 32-bit float stereo. */
export function monoOf(stereo: Buffer): Float32Array {
  const samples = new Float32Array(stereo.buffer, stereo.byteOffset, stereo.length / 4);
  return Float32Array.from(
    { length: samples.length / 2 },
    (_, frame) => (samples[2 * frame]! + samples[2 * frame + 1]!) / 2,
  );
}

interface Onset {
  do(block: Float32Array): number;
  getLastMs(): number;
  setSilence(db: number): void;
}

type Aubio = { Onset: new (...args: unknown[]) => Onset };
const FAILURES = ["uncaughtException", "unhandledRejection"];

/** Quirk: it takes all failures of the process for its own and ends it; other tests of the process have theirs. */
async function loadAubio(): Promise<Aubio> {
  const before = FAILURES.map((name) => process.rawListeners(name));
  const aubio = await ((await import("aubiojs")).default as unknown as () => Promise<Aubio>)();
  FAILURES.forEach((name, at) => {
    for (const listener of process.rawListeners(name))
      if (!before[at]!.includes(listener)) process.removeListener(name, listener as () => void);
  });
  return aubio;
}

/** Onsets in ms as aubio finds them, by the settings that suit drums (observed: 1 to 4 ms late, evenly). */
export async function findOnsets(samples: Float32Array, sampleRate: number, spacingMs = 50): Promise<number[]> {
  const { Onset } = await loadAubio();
  const onset = new Onset("hfc", 512, 64, sampleRate);
  onset.setSilence(-60);
  (onset as unknown as Record<string, (ms: number) => void>)["setMinioiMs "]!(spacingMs);
  const found: number[] = [];
  for (let frame = 0; frame + 64 <= samples.length; frame += 64)
    if (onset.do(samples.subarray(frame, frame + 64))) found.push(onset.getLastMs());
  return found;
}
