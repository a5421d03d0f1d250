/**
 * Compiles the loops over samples to WebAssembly, as a script: the audio thread can fetch nothing. The result is kept with the source, so
 * that only who changes it needs the compiler, and a test holds it to its source.
 */
import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import asc from "assemblyscript/asc";

const SOURCE = "src/core/sound/kernel/assembly/kernel.ts";
const MODULE = "src/core/sound/kernel/kernel-module.ts";
// Warning 201 is of machines with 64-bit addresses.
const OPTIONS =
  "-O3 --noAssert --runtime stub --enable simd --disableWarning 201 --importMemory --initialMemory 2 --maximumMemory 65536";

/** @returns the text of the module */
async function compiledKernel() {
  const folder = await mkdtemp(join(tmpdir(), "kernel-"));
  try {
    const file = join(folder, "kernel.wasm");
    const { error } = await asc.main([SOURCE, "--outFile", file, ...OPTIONS.split(" ")], { stderr: process.stderr });
    if (error) throw new Error("The kernel can't be compiled.", { cause: error });
    const text = (await readFile(file)).toString("hex");
    return `/** ${SOURCE}, compiled by scripts/compile-kernel.mjs: hexadecimal. */\nexport const KERNEL_HEX =\n  "${text}";\n`;
  } finally {
    await rm(folder, { recursive: true });
  }
}

const text = await compiledKernel();
if (process.argv.includes("--print")) process.stdout.write(text);
else await writeFile(MODULE, text);
