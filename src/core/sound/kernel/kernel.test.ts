import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import fc from "fast-check";
import { seededRandom } from "../../random";
import { Bus } from "../mix/bus";
import type { Samples } from "../signal/dsp";
import { Mixer } from "../mix/mixer";
import { roomDesign } from "./room-design";
import type { SoundShape } from "../signal/sound";
import type { Kernel } from "./kernel";
import { newKernel } from "./new-kernel";
import { PlainKernel } from "./plain-kernel";
import { SampleMemory } from "./sample-memory";
import { WasmKernel } from "./wasm-kernel";

const RATE = 8000;
const FRAMES = 1500;

/** A sound that is struck, with all that a voice may have. */
const stroke = fc.record({
  frame: fc.integer({ min: 0, max: 900 }),
  lane: fc.integer({ min: 0, max: 3 }),
  bus: fc.integer({ min: 0, max: 1 }),
  rate: fc.oneof(fc.constant(1), fc.double({ min: 0.2, max: 9, noNaN: true })),
  gain: fc.double({ min: 0.1, max: 1, noNaN: true }),
  twoSides: fc.boolean(),
  looped: fc.boolean(),
  decaySeconds: fc.option(fc.double({ min: 0.02, max: 1, noNaN: true })),
  cutFrames: fc.constantFrom(0, 0, 50, 333),
  chokeGroup: fc.constantFrom(0, 0, 1),
  samples: fc.integer({ min: 40, max: 1200 }),
});
type Stroke = typeof stroke extends fc.Arbitrary<infer T> ? T : never;

const playing = fc.record({
  strokes: fc.array(stroke, { minLength: 1, maxLength: 12 }),
  blocks: fc.array(fc.integer({ min: 1, max: 300 }), { minLength: 1, maxLength: 5 }),
  levels: fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 2, maxLength: 4 }),
  sends: fc.array(fc.constantFrom(0, 0, 0.3, 1), { minLength: 2, maxLength: 4 }),
});
type Playing = typeof playing extends fc.Arbitrary<infer T> ? T : never;

/** A kernel's sound and peaks of strokes, block by block, while faders move. */
function heard(kernel: Kernel, { strokes, blocks, levels, sends }: Playing) {
  const mixer = new Mixer(RATE, kernel);
  const buses = [new Bus(), new Bus()];
  const [left, right] = [new Float32Array(FRAMES), new Float32Array(FRAMES)];
  const waiting = strokes.toSorted((a, b) => a.frame - b.frame);
  const peaks: unknown[] = [];
  for (let frame = 0, turn = 0; frame < FRAMES; turn++) {
    const count = Math.min(blocks[turn % blocks.length]!, FRAMES - frame);
    for (const bus of buses) {
      bus.gains.fill(levels[turn % levels.length]!);
      bus.room.fill(sends[turn % sends.length]!);
    }
    while (waiting[0] && waiting[0].frame < frame + count) start(mixer, buses, kernel, waiting.shift()!);
    mixer.addTo(left.subarray(frame, frame + count), right.subarray(frame, frame + count), frame);
    peaks.push(buses.map((bus) => [bus.takePeak(), bus.takeLanePeaks()]));
    frame += count;
  }
  return { left, right, peaks };
}

function start(mixer: Mixer, buses: readonly Bus[], kernel: Kernel, one: Stroke): void {
  const random = seededRandom(one.samples + one.frame);
  const noise = (): Samples => {
    const samples = Float32Array.from({ length: one.samples }, () => random() - 0.5);
    return kernel.samples?.keep(samples) ?? samples;
  };
  const shape: SoundShape = {
    gainLeft: 0.8,
    gainRight: 0.6,
    chokeGroup: one.chokeGroup,
    ...(one.looped && { held: { loop: [8, one.samples - 6], releaseFrames: 100 } }),
    ...(one.decaySeconds !== null && { decaySeconds: one.decaySeconds }),
  };
  const [samples, right] = [noise(), one.twoSides ? noise() : undefined];
  mixer.start(buses[one.bus]!, one.lane, shape, samples, one.gain, one.rate, one.frame, one.cutFrames, right);
}

test("in WebAssembly, from its own memory and from elsewhere, the same bytes and peaks as in TypeScript", () => {
  fc.assert(
    fc.property(playing, (given) => {
      const plain = heard(new PlainKernel(roomDesign(RATE)), given);
      for (const kernel of [newKernel(RATE), newKernel(RATE, 2 ** 20)]) {
        expect(kernel).toBeInstanceOf(WasmKernel);
        expect(heard(kernel, given)).toEqual(plain);
      }
    }),
    { numRuns: 60 },
  );
});

test("the module is what its source is compiled to", () => {
  const compiled = execFileSync("node", ["scripts/compile-kernel.mjs", "--print"], { encoding: "utf8" });
  expect(readFileSync("src/core/sound/kernel/kernel-module.ts", "utf8")).toBe(compiled);
});

test("where there is no WebAssembly, or less memory, it plays all the same", () => {
  const { Module, Memory } = WebAssembly;
  try {
    WebAssembly.Memory = function (size: WebAssembly.MemoryDescriptor) {
      if (size.initial > 100) throw new RangeError("no room");
      return new Memory(size);
    } as unknown as typeof Memory;
    expect(newKernel(RATE, 2 ** 30).samples).toBeUndefined();
    WebAssembly.Module = undefined as unknown as typeof Module;
    jest.isolateModules(() => {
      const fresh = jest.requireActual<{ newKernel: typeof newKernel }>("./new-kernel");
      expect(fresh.newKernel(RATE, 2 ** 20).constructor.name).toBe("PlainKernel");
    });
  } finally {
    Object.assign(WebAssembly, { Module, Memory });
  }
});

describe("memory for samples", () => {
  const bytes = 4096;
  const filled = (length: number, value: number) => new Float32Array(length).fill(value);

  test("what is kept is the same, and nobody else's; what is given back is there again, in one piece", () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat({ max: 300 }), { maxLength: 30 }),
        fc.array(fc.nat(), { maxLength: 30 }),
        (sizes, gone) => {
          const memory = new SampleMemory(new ArrayBuffer(bytes), 1024);
          const kept = sizes.map((size, value) => memory.keep(filled(size, value)));
          for (const index of gone) if (kept.length > 0) memory.giveBack(kept[index % kept.length]!);
          const left = kept.filter((_, at) => !gone.some((index) => index % kept.length === at));
          const more = memory.keep(filled(10, -1));
          left.forEach((samples) => expect(new Set(samples).size).toBeLessThanOrEqual(1));
          for (const samples of [...kept, more]) memory.giveBack(samples);
          expect(memory.free).toBe(bytes - 1024);
          expect(memory.keep(filled((bytes - 1024) / 4, 1)).byteOffset).toBe(1024);
        },
      ),
    );
  });

  test("where there is no room samples stay where they are", () => {
    const memory = new SampleMemory(new ArrayBuffer(bytes), 1024);
    const samples = filled(bytes, 1);
    expect(memory.keep(samples)).toBe(samples);
    memory.giveBack(samples);
    expect(memory.free).toBe(bytes - 1024);
  });
});
