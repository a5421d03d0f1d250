import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync } from "node:zlib";

const BUILD = ".next/build-manifest.json";

/** Scripts that a page loads first, as they are served (Brotli), kB; undefined where nothing is built. @param page such as "beat/[id]/" */
export function firstLoadKilobytes(page: string): number | undefined {
  const manifest = `.next/server/app/${page}page_client-reference-manifest.js`;
  if (!existsSync(manifest) || !existsSync(BUILD)) return undefined;
  const shared: string[] = JSON.parse(readFileSync(BUILD, "utf8")).rootMainFiles;
  const ofPage = [...readFileSync(manifest, "utf8").matchAll(/static\/chunks\/[\w.-]+\.js/g)].map(([file]) => file);
  const files = [...new Set([...shared, ...ofPage])].map((file) => join(".next", file)).filter(existsSync);
  return files.reduce((sum, file) => sum + brotliCompressSync(readFileSync(file)).length, 0) / 1000;
}
