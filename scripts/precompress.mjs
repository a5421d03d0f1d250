/** Compresses the files of a build once, as well as it goes, instead of with every request. */
import { cp, mkdir, readdir, readFile, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { promisify } from "node:util";
import { brotliCompress, gzip } from "node:zlib";
import { SERVED } from "./server/served-files.mjs";

const FOLDERS = { ".next/static": "_next/static", "public/engine": "engine" };
/** Other files, fonts and pictures, are compressed already. */
const COMPRESSIBLE = /\.(js|css)$/;

async function compress(file) {
  const bytes = await readFile(file);
  const [br, gz] = await Promise.all([promisify(brotliCompress)(bytes), promisify(gzip)(bytes, { level: 9 })]);
  await Promise.all([writeFile(`${file}.br`, br), writeFile(`${file}.gz`, gz)]);
}

await rm(SERVED, { recursive: true, force: true });
for (const [from, to] of Object.entries(FOLDERS)) {
  const folder = join(SERVED, to);
  await mkdir(folder, { recursive: true });
  await cp(from, folder, { recursive: true });
  const files = await readdir(folder, { recursive: true, withFileTypes: true });
  const compressible = files.filter((file) => file.isFile() && COMPRESSIBLE.test(file.name));
  await Promise.all(compressible.map(({ parentPath, name }) => compress(join(parentPath, name))));
}
// Last, so that half of the files are never taken for all of them.
await cp(".next/BUILD_ID", join(SERVED, "BUILD_ID"));
