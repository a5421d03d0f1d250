import { demoBank } from "../support/demo-bank";
import { readFileSync } from "node:fs";
import { unzipSync } from "fflate";
import type { KitPart } from "@/core/beat/beat";
import { beatToStems, type StemSize } from "@/core/playback/beat-to-stems";
import { Player } from "@/core/sound/player/player";
import type { Ticks } from "@/core/time/ticks";
import { KIT_IDS } from "@/core/instruments";
import { beatToWav, partSounds } from "@/core/playback/beat-to-wav";
import { Limiter } from "@/core/sound/mix/limiter";
import { limiterDelayFrames } from "@/core/sound/mix/limiter-delay";
import { collect, lapStream } from "@/core/sound/player/render";
import { setPartMix } from "@/core/beat/edits/mix-edit";
import { firstPlace, firstPlaces } from "@/core/beat/new-beat";
import { setKit } from "@/core/beat/edits/own-kit";
import { demoBeat } from "@/core/demo/demo-beats";
import { demoBeats } from "@/core/demo/demo";
import { seededRandom } from "@/core/random";
import { LoudnessMeter } from "@/core/sound/loudness/loudness";
import { soxSamples, fileOf } from "./support/tools";

/** The functions of ebur128-wasm, which is made of another implementation of ITU-R BS.1770-4 and EBU R 128. */
interface Ebur128 {
  readonly memory: WebAssembly.Memory;
  __wbindgen_malloc(bytes: number): number;
  ebur128_integrated_stereo: Measure;
  ebur128_true_peak_stereo: Measure;
}

type Measure = (sampleRate: number, left: number, leftLength: number, right: number, rightLength: number) => number;

/** Its own entry is for bundlers; nothing that it imports is called here. @returns LUFS, or dBTP */
function independentMeter(
  what: "ebur128_integrated_stereo" | "ebur128_true_peak_stereo",
): (sampleRate: number, left: Float32Array, right: Float32Array) => number {
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
    return wasm[what](sampleRate, a, left.length, b, right.length);
  };
}

const independent = independentMeter("ebur128_integrated_stereo");
const truePeak = independentMeter("ebur128_true_peak_stereo");

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

/** What leaves the app, a block at a time, its delay taken off. */
function limited(sampleRate: number, left: Float32Array, right: Float32Array) {
  const limiter = new Limiter(sampleRate);
  const delay = limiterDelayFrames(sampleRate);
  const through = (side: Float32Array) => Float32Array.from([...side, ...new Float32Array(delay)]);
  const [a, b] = [through(left), through(right)];
  for (let from = 0; from < a.length; from += 128)
    limiter.process(a.subarray(from, from + 128), b.subarray(from, from + 128));
  return { left: a.subarray(delay), right: b.subarray(delay), overDb: limiter.takeReduction() };
}

// EBU Tech 3341 has sines of a fraction of the sample rate for true peaks (from memory): between samples they are higher.
test.each([
  ["a quarter of the rate, between samples", (frame: number) => Math.sin((Math.PI / 2) * frame + Math.PI / 4)],
  ["a sixth of it", (frame: number) => Math.sin((Math.PI / 3) * frame + Math.PI / 3)],
  ["an eighth of it", (frame: number) => Math.sin((Math.PI / 4) * frame + 0.375 * Math.PI)],
] as const)("a sine at %s, 6 dB too loud: true peak below -1 dBTP", (_, sine) => {
  const loud = Float32Array.from(
    { length: 48_000 },
    (_one, frame) => 2 * sine(frame) * Math.min(1, frame / 4800, (48_000 - frame) / 4800),
  );
  const { left, right, overDb } = limited(48_000, loud, loud);
  expect(truePeak(48_000, loud, loud)).toBeGreaterThan(5.9);
  expect(truePeak(48_000, left, right)).toBeLessThan(-1);
  expect(truePeak(48_000, left, right)).toBeGreaterThan(-1.8);
  // What it says was too much is what the other meter says, above where it begins: EBU Tech 3341 allows meters 0.4 dB.
  expect(Math.abs(overDb - (truePeak(48_000, loud, loud) + 1.4))).toBeLessThan(0.4);
});

test.each(demoBeats().map((beat) => [beat.name, beat] as const))(
  "%s, all of it 15 dB too loud: true peak below -1 dBTP",
  (_, beat) => {
    const places = firstPlaces(beat);
    const loud = beat.parts.reduce((now, { id, mix }) => setPartMix(now, id, { levelDb: mix.levelDb + 15 }), beat);
    const parts = partSounds(loud, places, 48_000);
    const { left, right } = collect(lapStream(parts, demoBank(loud, 48_000), "loop"));
    const free = collect(lapStream(parts, demoBank(loud, 48_000), "loop", { limited: false, room: true }));
    const over = truePeak(48_000, free.left, free.right);
    expect(over).toBeGreaterThan(0);
    // As it comes it leaves the limiter idle.
    expect(over - 15).toBeLessThan(-1.5);
    expect(truePeak(48_000, left, right)).toBeLessThan(-1);
    // The held warning says the same of what was too much.
    expect(Math.abs(limited(48_000, free.left, free.right).overDb - (over + 1.4))).toBeLessThan(0.4);
  },
);

test("the kits of the demo beats leave the limiter idle, whatever kit they have", () => {
  for (const beat of demoBeats())
    for (const kit of KIT_IDS) {
      const changed = setKit(beat, beat.parts[0]!.id, kit);
      const parts = partSounds(changed, [firstPlace(changed)], 48_000);
      const free = collect(lapStream(parts, demoBank(changed, 48_000), "loop", { limited: false, room: true }));
      expect(truePeak(48_000, free.left, free.right)).toBeLessThan(-1.5);
    }
});

test("the meters of parts and pads show the peaks that their stems have", () => {
  const beat = demoBeat("Gangway Shuffle");
  const places = firstPlaces(beat);
  const bank = demoBank(beat, 48_000);
  const parts = partSounds(beat, places, 48_000);
  const player = new Player(48_000, parts[0]!.table);
  player.addSounds(bank.sounds);
  player.setTables(parts.map(({ table }) => table));
  for (const { table, lanes, mix } of parts) {
    player.setLanes(table.partId, lanes);
    player.mix(table.partId, mix!);
  }
  player.start({ segment: 1, fromTicks: 0 as Ticks, countIn: false, laps: 1 });
  const [left, right] = [new Float32Array(128), new Float32Array(128)];
  for (let frame = 0; frame < 12 * 48_000; frame += 128) player.process(left, right);
  const zipped = (size: StemSize) =>
    unzipSync(beatToStems(beat, places, size, { sampleRate: 48_000, bits: 32, mode: "tail" }, bank));
  const [byPart, byLane] = [zipped("part"), zipped("pad")];
  const peakOf = (wav: Uint8Array) => {
    const data = Buffer.from(wav).subarray(Buffer.from(wav).indexOf("data") + 8);
    let most = 0;
    for (let at = 0; at < data.length; at += 4) most = Math.max(most, Math.abs(data.readFloatLE(at)));
    return most;
  };
  const shown = player.takePeaks();
  for (const { id, name } of beat.parts)
    expect(shown.find(({ partId }) => partId === id)!.peak).toBeCloseTo(peakOf(byPart[`${name}.wav`]!), 5);
  // A pad's meter adds up the peaks of its voices: it shows no less than its stem has, and little more.
  const kit = beat.parts[0] as KitPart;
  for (const { lane, peak } of shown.find(({ partId }) => partId === kit.id)!.lanes) {
    const wav = byLane[`Kit ${kit.pads[lane]!.name}.wav`];
    expect(peak).toBeGreaterThan(peakOf(wav!) - 1e-5);
    expect(peak).toBeLessThan(1.6 * peakOf(wav!));
  }
});
