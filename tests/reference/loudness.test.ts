import { demoBank } from "../support/demo-bank";
import { readFileSync } from "node:fs";
import { beatToWav } from "@/core/playback/beat-to-wav";
import { firstPlaces } from "@/core/beat/new-beat";
import { demoBeats } from "@/core/demo/demo";
import { seededRandom } from "@/core/random";
import { LoudnessMeter } from "@/core/sound/loudness";
import { soxSamples, fileOf } from "./support/tools";

/** The functions of ebur128-wasm, which is made of another implementation of ITU-R BS.1770-4 and EBU R 128. */
interface Ebur128 {
  readonly memory: WebAssembly.Memory;
  __wbindgen_malloc(bytes: number): number;
  ebur128_integrated_stereo(
    sampleRate: number,
    left: number,
    leftLength: number,
    right: number,
    rightLength: number,
  ): number;
}

/** Its own entry is for bundlers; nothing that it imports is called here. */
function independentMeter(): (sampleRate: number, left: Float32Array, right: Float32Array) => number {
  const module = new WebAssembly.Module(readFileSync("node_modules/ebur128-wasm/ebur128_wasm_bg.wasm"));
  const imports: Record<string, Record<string, () => number>> = {};
  for (const { module: from, name } of WebAssembly.Module.imports(module)) (imports[from] ??= {})[name] = () => 0;
  const wasm = new WebAssembly.Instance(module, imports).exports as unknown as Ebur128;
  const put = (samples: Float32Array) => {
    const at = wasm.__wbindgen_malloc(samples.length * 4);
    new Float32Array(wasm.memory.buffer).set(samples, at / 4);
    return at;
  };
  return (sampleRate, left, right) => {
    const [a, b] = [put(left), put(right)];
    return wasm.ebur128_integrated_stereo(sampleRate, a, left.length, b, right.length);
  };
}

const independent = independentMeter();

function measured(sampleRate: number, left: Float32Array, right: Float32Array): number {
  const meter = new LoudnessMeter(sampleRate);
  for (let from = 0; from < left.length; from += 128)
    meter.add(left.subarray(from, from + 128), right.subarray(from, from + 128));
  return meter.integrated;
}

test.each([44_100, 48_000, 96_000])("bursts of noise between pauses, at %i Hz: within 0.05 LU", (sampleRate) => {
  const random = seededRandom(sampleRate);
  const side = () =>
    Float32Array.from({ length: 12 * sampleRate }, (_, index) => {
      const second = Math.floor(index / sampleRate);
      return second % 3 === 2 ? 0 : (random() - 0.5) * [0.5, 0.05, 0, 0.2][second % 4]!;
    });
  const [left, right] = [side(), side()];
  expect(Math.abs(measured(sampleRate, left, right) - independent(sampleRate, left, right))).toBeLessThan(0.05);
});

test.each(demoBeats().map((beat) => [beat.name, beat] as const))("%s as it is exported: within 0.1 LU", (_, beat) => {
  const wav = fileOf(
    "loud.wav",
    Buffer.from(
      beatToWav(beat, firstPlaces(beat), { sampleRate: 48_000, bits: 32, mode: "tail" }, demoBank(beat, 48_000)),
    ),
  );
  const samples = new Float32Array(new Uint8Array(soxSamples(wav, 32)).buffer);
  const side = (at: 0 | 1) =>
    Float32Array.from({ length: samples.length / 2 }, (_one, index) => samples[2 * index + at]!);
  const [left, right] = [side(0), side(1)];
  expect(Math.abs(measured(48_000, left, right) - independent(48_000, left, right))).toBeLessThan(0.1);
});
