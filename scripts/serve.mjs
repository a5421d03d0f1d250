/** Serves the build on PORT (3000; 0 is a free one) of HOST (127.0.0.1: nobody else's machine is let in unless it is asked for). */
import { startAppServer } from "./server/app-server.mjs";

const host = process.env.HOST || "127.0.0.1";
const port = await startAppServer({ port: Number(process.env.PORT || 3000), host });
const shown = host === "127.0.0.1" ? "localhost" : host;
console.log(`\nEcho Pocket is at http://${shown}:${port}\n`);
if (shown !== "localhost")
  console.log("From other machines it needs https: without it browsers give no sound, no MIDI and no locks.\n");
