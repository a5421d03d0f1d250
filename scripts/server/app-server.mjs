/** Serves the build. Requests that the framework can only fail at are answered here. */
import { readFile } from "node:fs/promises";
import { createServer } from "node:http";
import next from "next";
import { servedFiles } from "./served-files.mjs";

process.env.NEXT_TELEMETRY_DISABLED = "1";

const METHODS = new Set(["GET", "HEAD", "POST", "OPTIONS"]);
const POLICY = "default-src 'none'; frame-ancestors 'none'";

function refuse(response, status, text) {
  response.writeHead(status, {
    "Content-Type": "text/plain",
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
  });
  response.end(text);
}

/** Other than the framework's own, which say nothing of what they may do: where a path with needless slashes leads. */
function tidied(url) {
  const [path, ...query] = url.split("?");
  const tidy = path.replace(/\/{2,}/g, "/").replace(/(.)\/$/, "$1");
  return tidy === path || !path.startsWith("/") ? undefined : [tidy, ...query].join("?");
}

/** A path that is no text in UTF-8 names nothing here. */
function isReadable(url) {
  try {
    decodeURIComponent(url.split("?")[0]);
    return true;
  } catch {
    return false;
  }
}

/**
 * @param port 0 takes a free one
 * @param host 127.0.0.1 lets nobody else's machine in
 * @param answer asked first, with each request and response; true where it has answered
 * @returns the port that is listened at
 */
export async function startAppServer({ port, host = "127.0.0.1", answer = () => false }) {
  const app = next({ dev: false, hostname: host, port });
  await app.prepare();
  const handle = app.getRequestHandler();
  const files = servedFiles(await readFile(".next/BUILD_ID", "utf8")) ?? (() => false);
  const server = createServer((request, response) => {
    if (!METHODS.has(request.method)) return refuse(response, 405, "Method not allowed.");
    if (!isReadable(request.url)) return refuse(response, 400, "This address can't be read.");
    const location = tidied(request.url);
    if (location !== undefined) {
      response.setHeader("Location", location);
      return refuse(response, 308, "");
    }
    if (!answer(request, response) && !files(request, response)) void handle(request, response);
  });
  await new Promise((done, fail) => server.once("error", fail).listen(port, host, done));
  return server.address().port;
}
