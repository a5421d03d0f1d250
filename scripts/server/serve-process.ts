import { spawn, type ChildProcess } from "node:child_process";
import { createInterface } from "node:readline";

export interface Served {
  /** @example "http://localhost:41234" */
  readonly url: string;
  readonly server: ChildProcess;
  /** Ends it at once: asked to end it would wait for open connections. */
  stop(): Promise<void>;
}

/** Serves the build in a process of its own, on a free port. */
export async function serve(): Promise<Served> {
  const server = spawn("node", ["scripts/serve.mjs"], {
    stdio: ["ignore", "pipe", "inherit"],
    env: { ...process.env, PORT: "0", NODE_ENV: "production" },
  });
  const gone = new Promise<void>((done) => server.once("exit", () => done()));
  const stop = () => {
    server.kill("SIGKILL");
    return gone;
  };
  const url = await new Promise<string>((found, fail) => {
    // It goes on reading: a pipe that nobody empties would hold the server up.
    createInterface(server.stdout).on("line", (line) => {
      const said = /http:\/\/localhost:\d+/.exec(line);
      if (said) found(said[0]);
    });
    void gone.then(() => fail(new Error("The server ended before it said where it is. Is there a build?")));
  });
  return { url, server, stop };
}
