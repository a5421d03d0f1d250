import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";

const MANIFEST = ".next/server/app/beat/[id]/page_client-reference-manifest.js";
const BUILD = ".next/build-manifest.json";

/** Gzipped scripts that the workspace loads first; undefined where nothing is built. */
export function workspaceKilobytes(): number | undefined {
  if (!existsSync(MANIFEST) || !existsSync(BUILD)) return undefined;
  const shared: string[] = JSON.parse(readFileSync(BUILD, "utf8")).rootMainFiles;
  const ofPage = [...readFileSync(MANIFEST, "utf8").matchAll(/static\/chunks\/[\w.-]+\.js/g)].map(([file]) => file);
  const files = [...new Set([...shared, ...ofPage])].map((file) => join(".next", file)).filter(existsSync);
  return files.reduce((sum, file) => sum + gzipSync(readFileSync(file)).length, 0) / 1000;
}
