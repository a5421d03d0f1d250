import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";

/** What belongs to a build is known only when it is done. */
export const dynamic = "force-dynamic";

/** The service worker, with the list of all files that this build serves. */
export async function GET(): Promise<Response> {
  const [build, worker, made, open] = await Promise.all([
    readFile(join(process.cwd(), ".next", "BUILD_ID"), "utf8"),
    readFile(join(process.cwd(), "build", "offline-worker.js"), "utf8"),
    filesIn(".next/static"),
    filesIn("public"),
  ]);
  const files = [...made.map((file) => `/_next/static/${file}`), ...open.map((file) => `/${file}`)];
  return new Response(`const OFFLINE = ${JSON.stringify({ build, files })};\n${worker}`, {
    headers: { "Content-Type": "text/javascript" },
  });
}

async function filesIn(folder: string): Promise<readonly string[]> {
  const root = join(process.cwd(), folder);
  const entries = await readdir(root, { recursive: true, withFileTypes: true });
  return entries
    .filter((entry) => entry.isFile())
    .map(({ parentPath, name }) => join(parentPath, name).slice(root.length + 1));
}
