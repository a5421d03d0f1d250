import type { Samples } from "../signal/dsp";
import { buffersIn, type Kernel, type KernelBuffers } from "./kernel";
import { KERNEL_HEX } from "./kernel-module";
import { MEMORY_BYTES, RATE, SINCE, TURNED, WINDOW_LEFT, WINDOW_RIGHT } from "./layout";
import type { RoomDesign } from "./room-design";
import { RoomMemory, roomBytes } from "./room-memory";
import { SampleMemory } from "./sample-memory";

const PAGE_BYTES = 65_536;
const SAMPLE_BYTES = 4;
/** Samples around a position that its value is made of, one before it, two behind it, and what rounding needs. */
const BEFORE = 2;
const AROUND = 6;

/** The functions of assembly/kernel.ts; addresses are bytes. */
interface KernelExports extends Pick<Kernel, "mix" | "addBus" | "addRoom"> {
  copy(sides: number, left: number, right: number, from: number, to: number): void;
  interpolate(sides: number, left: number, right: number, from: number, to: number): void;
}

/** The kernel in WebAssembly. Samples in its own memory are read where they lie, others by way of a window. */
export class WasmKernel implements Kernel {
  readonly buffers: KernelBuffers;
  readonly samples?: SampleMemory;
  readonly mix: Kernel["mix"];
  readonly addBus: Kernel["addBus"];
  readonly addRoom: Kernel["addRoom"];
  private readonly room: RoomMemory;
  private readonly memory: ArrayBuffer;
  private readonly loops: KernelExports;

  /** @param sampleBytes so much room for samples @throws RangeError where this machine hasn't got it */
  constructor(module: WebAssembly.Module, room: RoomDesign, sampleBytes: number) {
    const samplesFrom = MEMORY_BYTES + Math.ceil(roomBytes(room) / PAGE_BYTES) * PAGE_BYTES;
    const pages = Math.ceil((samplesFrom + sampleBytes) / PAGE_BYTES);
    // It never grows: growing would take the views away.
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    this.memory = memory.buffer;
    this.buffers = buffersIn(this.memory);
    if (sampleBytes > 0) this.samples = new SampleMemory(this.memory, samplesFrom);
    this.room = new RoomMemory(this.memory, room, MEMORY_BYTES);
    this.loops = new WebAssembly.Instance(module, { env: { memory } }).exports as unknown as KernelExports;
    this.mix = this.loops.mix;
    this.addBus = this.loops.addBus;
    this.addRoom = this.loops.addRoom;
  }

  emptyRoom(): void {
    this.room.empty();
  }

  copy(samples: Samples, right: Samples | undefined, first: number, from: number, to: number): void {
    const { window } = this.buffers;
    const left = this.addressOf(samples, window.left, WINDOW_LEFT, first, to - from);
    const other = right ? this.addressOf(right, window.right, WINDOW_RIGHT, first, to - from) : left;
    this.loops.copy(right ? 2 : 1, left, other, from, to);
  }

  interpolate(samples: Samples, right: Samples | undefined, from: number, to: number): void {
    const { numbers } = this.buffers;
    const rate = numbers[RATE]!;
    const first = Math.floor((numbers[SINCE]! + from) * rate - numbers[TURNED]!) - BEFORE;
    const count = Math.ceil((to - from) * rate) + AROUND;
    const { window } = this.buffers;
    const back = SAMPLE_BYTES * first;
    const left = this.addressOf(samples, window.left, WINDOW_LEFT, first, count) - back;
    const other = right ? this.addressOf(right, window.right, WINDOW_RIGHT, first, count) - back : left;
    this.loops.interpolate(right ? 2 : 1, left, other, from, to);
  }

  /** Address of the sample `first`, with as many of the next ones behind it as there are, up to `count`. */
  private addressOf(samples: Samples, window: Samples, windowAt: number, first: number, count: number): number {
    if (samples.buffer === this.memory) return samples.byteOffset + SAMPLE_BYTES * first;
    window.set(samples.subarray(first, first + count));
    return windowAt;
  }
}

/** @throws CompileError or a ReferenceError where there is no WebAssembly with vectors, or a policy forbids it */
export function compileKernel(): WebAssembly.Module {
  const bytes = Uint8Array.from({ length: KERNEL_HEX.length / 2 }, (_, at) =>
    Number.parseInt(KERNEL_HEX.slice(2 * at, 2 * at + 2), 16),
  );
  return new WebAssembly.Module(bytes);
}
