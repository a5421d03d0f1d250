/**
 * Serves the build on a free port to the browser tests: to those that ask by a cookie with stand-ins for kits and voices.
 * Files are as the app's own server has them, headers included, but each is asked for only once.
 */
import { build } from "esbuild";
import { startAppServer } from "../../../scripts/server/app-server.mjs";

/** Files that are the same for everybody, and does not change as long as this serves. */
const SAME = /^\/(_next\/static|engine)\//;
const RENDER_WORKER = "/engine/render-worker.js";
/** Asked by this server of itself. */
const ITSELF = "x-serving-itself";
/** Headers that a server says of one answer, and not of the file. */
const OF_ONE_ANSWER = ["connection", "date", "keep-alive", "transfer-encoding"];

const {
  outputFiles: [standIn],
} = await build({
  entryPoints: ["tests/e2e/support/stand-in.worker.ts"],
  bundle: true,
  format: "esm",
  target: "es2022",
  write: false,
});

const files = new Map();

/** @returns status, headers and content, as the app's server answers */
function fileAt(url) {
  if (!files.has(url))
    files.set(
      url,
      fetch(`http://127.0.0.1:${port}${url}`, { headers: { [ITSELF]: "1" } }).then(async (answer) => ({
        status: answer.status,
        headers: [...answer.headers].filter(([name]) => !OF_ONE_ANSWER.includes(name)),
        content: Buffer.from(await answer.arrayBuffer()),
      })),
    );
  return files.get(url);
}

async function answerWith(url, response, replaced) {
  const { status, headers, content } = await fileAt(url);
  const own = replaced ?? content;
  response.writeHead(status, { ...Object.fromEntries(headers), "content-length": own.length });
  response.end(own);
}

function answer({ method, url, headers }, response) {
  // To and from the same machine: squeezing each page for each test would take longer than all else the server does.
  delete headers["accept-encoding"];
  if (method !== "GET" || !SAME.test(url) || headers[ITSELF]) return false;
  const replaced = url === RENDER_WORKER && headers.cookie?.includes("sounds=stand-in");
  void answerWith(url, response, replaced ? standIn.contents : undefined);
  return true;
}

const port = await startAppServer({ port: 0, answer });
console.log(`Serving at port ${port}`);
