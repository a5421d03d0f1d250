/**
 * Serves the build on PORT (3000) of HOST (127.0.0.1: nobody else's machine is let in unless it is asked for). Requests that
 * the framework can only fail at are answered here.
 */
import { createServer } from "node:http";
import next from "next";

const METHODS = new Set(["GET", "HEAD", "POST", "OPTIONS"]);
const POLICY = "default-src 'none'; frame-ancestors 'none'";

const port = Number(process.env.PORT || 3000);
const host = process.env.HOST || "127.0.0.1";

const app = next({ dev: false, hostname: host, port });
await app.prepare();
const handle = app.getRequestHandler();

function refuse(response, status, text) {
  response.writeHead(status, { "Content-Type": "text/plain", "Content-Security-Policy": POLICY });
  response.end(text);
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

createServer((request, response) => {
  if (!METHODS.has(request.method)) return refuse(response, 405, "This is not done here.");
  if (!isReadable(request.url)) return refuse(response, 400, "This address can't be read.");
  void handle(request, response);
}).listen(port, host, () => {
  const shown = host === "127.0.0.1" ? "localhost" : host;
  console.log(`\nEcho Pocket is at http://${shown}:${port}\n`);
  if (shown !== "localhost")
    console.log("From other machines it needs https: without it browsers give no sound, no MIDI and no locks.\n");
});
