import { roomDesign } from "./room-design";
import type { Kernel } from "./kernel";
import { PlainKernel } from "./plain-kernel";
import { compileKernel, WasmKernel } from "./wasm-kernel";

/** Compiled once per thread; undefined where that is not possible. */
let compiled: WebAssembly.Module | undefined | "not tried" = "not tried";

/**
 * The quickest kernel that this machine has.
 * @param sampleBytes room for the samples that are played: less where the machine has less, as what finds none is read elsewhere
 */
export function newKernel(sampleRate: number, sampleBytes = 0): Kernel {
  if (compiled === "not tried") compiled = attempt(compileKernel);
  const code = compiled;
  const room = roomDesign(sampleRate);
  if (!code) return new PlainKernel(room);
  return attempt(() => new WasmKernel(code, room, sampleBytes)) ?? new WasmKernel(code, room, 0);
}

function attempt<T>(make: () => T): T | undefined {
  try {
    return make();
  } catch {
    return undefined;
  }
}
