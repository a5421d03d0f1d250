import { once } from "node:events";
import { mkdtempSync, mkdirSync, rmSync, writeFileSync } from "node:fs";
import { createServer, get, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { servedFiles } from "../../../scripts/server/served-files.mjs";

test("files are served as they were compressed with the build, to whom takes them so; those of another build are not", async () => {
  const folder = mkdtempSync(join(tmpdir(), "served-"));
  const chunks = join(folder, "_next", "static");
  mkdirSync(chunks, { recursive: true });
  for (const [name, text] of Object.entries({ "a.js": "plain", "a.js.br": "brotli", "a.js.gz": "gzip" }))
    writeFileSync(join(chunks, name), text);
  writeFileSync(join(folder, "BUILD_ID"), "one");
  expect(servedFiles("other", folder)).toBeUndefined();
  expect(servedFiles("one", join(folder, "nowhere"))).toBeUndefined();
  const files = servedFiles("one", folder)!;
  const server = createServer((request, response) => {
    if (!files(request, response)) response.writeHead(404).end("the framework's");
  }).listen(0);
  await once(server, "listening");
  const { port } = server.address() as AddressInfo;
  const ask = async (path: string, accepted: string) => {
    const [answer] = (await once(get({ port, path, headers: { "accept-encoding": accepted } }), "response")) as [
      IncomingMessage,
    ];
    const text = (await answer.toArray()).join("");
    return { text, encoding: answer.headers["content-encoding"], headers: answer.headers };
  };
  try {
    expect(await ask("/_next/static/a.js", "gzip, br")).toMatchObject({ text: "brotli", encoding: "br" });
    expect(await ask("/_next/static/a.js", "gzip")).toMatchObject({ text: "gzip", encoding: "gzip" });
    const { text, headers } = await ask("/_next/static/a.js", "identity");
    expect(text).toBe("plain");
    expect(headers).toMatchObject({
      "cache-control": "public, max-age=31536000, immutable",
      "content-security-policy": expect.stringContaining("default-src 'none'"),
      "cross-origin-embedder-policy": "require-corp",
      vary: "Accept-Encoding",
    });
    for (const path of ["/_next/static/b.js", "/BUILD_ID", "/_next/static/../../BUILD_ID", "/"])
      expect(await ask(path, "br"), path).toMatchObject({ text: "the framework's" });
  } finally {
    server.close();
    rmSync(folder, { recursive: true });
  }
});
