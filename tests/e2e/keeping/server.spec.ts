import { once } from "node:events";
import { readFileSync } from "node:fs";
import { request as httpRequest } from "node:http";
import { connect } from "node:net";
import { expect, test } from "@playwright/test";
import { median } from "simple-statistics";
import { addHits, addPass, setBars, setTempo } from "@/core/beat/edit";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { demoBeat } from "@/core/demo/demo-beats";
import { writeBeatFile } from "@/core/formats/beat-file";
import type { Ticks } from "@/core/time/ticks";
import { serve, type Served } from "../../../scripts/server/serve-process";

const MEGABYTE = 2 ** 20;

// In order and in one worker: what one server does with all of it is asked.
test.describe.configure({ mode: "default" });

let served: Served;
test.beforeAll(async () => void (served = await serve()));
test.afterAll(() => served.stop());

/** What the server and its threads hold (Linux, proc(5)). */
function residentMegabytes(): number {
  const status = readFileSync(`/proc/${served.server.pid}/status`, "utf8");
  return Number(/VmRSS:\s+(\d+) kB/.exec(status)![1]) / 1024;
}

/** One kick and silence: few bytes that ask for as long a sound as is wanted. */
function kickIn(bars: number): string {
  const beat = setTempo(
    setBars(newBeat({ id: "long", name: "Long" }), firstPlace(newBeat({ id: "l", name: "L" })), bars),
    120,
  );
  const { beat: ready, passId } = addPass(beat, firstPlace(beat), {
    name: "P",
    muted: false,
    quantize: beat.inputQuantize,
  });
  const hit = { lane: 0, played: { ticks: 0 as Ticks, velocity: 100 }, lengthTicks: 60 as Ticks };
  return writeBeatFile(addHits(ready, firstPlace(beat), passId, [hit]));
}

const render = (body: string, signal?: AbortSignal, query = "rate=48000&bits=32") =>
  fetch(`${served.url}/api/render?${query}`, { method: "POST", body, ...(signal && { signal }) });

/** Asks again as long as it is told to come again: where the machine is slow, what is late is told so. */
async function renderAtLast(body: string): Promise<number> {
  for (;;) {
    const { status, headers } = await render(body);
    const again = Number(headers.get("retry-after"));
    if (!again) return status;
    await new Promise((done) => setTimeout(done, again * 1000));
  }
}

test("forty renders at once, half of them hung up: all others are answered or told when to come again", async () => {
  let most = 0;
  const watch = setInterval(() => (most = Math.max(most, residentMegabytes())), 20);
  const pageMs: number[] = [];
  const startMs = performance.now();
  // What is asked is how forty are answered, not how long a kit takes to make.
  const files = [kickIn(1), kickIn(30)];
  const answers = Array.from({ length: 40 }, async (_, index) => {
    const leaving = new AbortController();
    if (index % 2 === 1) setTimeout(() => leaving.abort(), 20 * index);
    try {
      const answer = await render(files[index % 4 === 0 ? 1 : 0]!, leaving.signal);
      // Quirk: Node's fetch never settles a body that is called off between its head and its first byte.
      const called = once(leaving.signal, "abort").then(() => Promise.reject(new Error("called off")));
      const { byteLength } = await Promise.race([answer.arrayBuffer(), called]);
      return { status: answer.status, byteLength, retry: answer.headers.get("retry-after") };
    } catch {
      return { status: 0, byteLength: 0, retry: null };
    }
  });
  for (let ask = 0; ask < 5; ask++) {
    const start = performance.now();
    expect((await fetch(`${served.url}/icon.svg`)).status).toBe(200);
    pageMs.push(performance.now() - start);
    await new Promise((done) => setTimeout(done, 100));
  }
  const all = await Promise.all(answers);
  const rendersMs = performance.now() - startMs;
  const stayed = all.filter((_, index) => index % 2 === 0);
  const others = stayed.filter(({ status }) => status !== 200);
  // Too many at once, or, where the machine is slow, too long in the line.
  expect(others.filter(({ status }) => status !== 429 && status !== 503)).toEqual([]);
  expect(others.filter(({ retry }) => retry !== "2")).toEqual([]);
  // A page waits for no render, however slow the machine is.
  expect(median(pageMs)).toBeLessThan(rendersMs / 4);
  // Whoever hung up holds no place.
  expect(await renderAtLast(files[0]!)).toBe(200);
  // A kit more is held then; a slow machine may be late with it.
  await render(writeBeatFile(demoBeat("Lantern Room")));
  clearInterval(watch);
  expect(most).toBeLessThan(600);
});

test("what would be too long, comes too slowly, or from another site's page is refused, and the server lives on", async () => {
  const long = await render(kickIn(2000), undefined, "rate=96000&bits=32");
  expect([long.status, (await long.json()).error]).toEqual([
    413,
    "This pattern lasts 4000 s; 60 s at this rate are the most for a WAV file here.",
  ]);
  expect((await render(" ".repeat(10 * MEGABYTE + 1))).status).toBe(413);
  const bad = await render('{"format":"echo-pocket-beat","version":1,"beat":{}}');
  expect([bad.status, (await bad.json()).problems]).toEqual([400, ['/beat: "id" is missing']]);
  const foreign = await fetch(`${served.url}/api/render`, {
    method: "POST",
    body: "{}",
    headers: { "Sec-Fetch-Site": "cross-site" },
  });
  expect(foreign.status).toBe(403);
  expect(residentMegabytes()).toBeLessThan(600);
});

test("unusual requests get an answer that is no failure of the server's", async () => {
  const raw = (line: string) =>
    new Promise<string>((done) => {
      const socket = connect(Number(new URL(served.url).port), "127.0.0.1", () =>
        socket.write(`${line} HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n`),
      );
      let text = "";
      socket.on("data", (data) => (text += data));
      socket.on("close", () => done(text.split("\r\n")[0]!));
    });
  for (const line of [
    "TRACE /",
    "TRACE /api/render",
    "GET /beat/%ff",
    "GET /%",
    "GET /beat/%2e%2e%2f",
    "PUT /",
    "GET /api/render",
  ])
    expect(await raw(line), line).toMatch(/^HTTP\/1\.1 [234]/);
});

test("every answer says what it may do", async () => {
  const policyOf = (path: string, method = "GET") =>
    new Promise<string>((done) => {
      httpRequest(`${served.url}${path}`, { method }, (answer) => {
        answer.resume();
        done(String(answer.headers["content-security-policy"]));
      }).end();
    });
  expect(await policyOf("/")).toContain("frame-src 'none'");
  for (const path of [
    "/icon.svg",
    "/engine/processor.js",
    "/engine/render-worker.js",
    "/offline.js",
    "/nothing/here",
    "/beat/",
    "//beat//x",
  ])
    expect(await policyOf(path), path).toMatch(/default-src '(none|self)'.*frame-ancestors 'none'/);
  expect(await policyOf("/api/render", "POST")).toContain("default-src 'none'");
});
