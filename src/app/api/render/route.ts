import { CoreError } from "@/core/core-error";
import { parseWavBits } from "@/core/formats/wav/wav";
import { MAX_FILE_BYTES } from "@/core/limits";
import { parseSampleRate, type WavOptions } from "@/core/playback/beat-to-wav";
import { RenderPool } from "@/workers/render-pool";

/** A beat file is here in this time, or its sender gives the place to another. */
const RECEIVE_LIMIT_MS = 10_000;
const RETRY_SECONDS = 2;
const CHUNK_BYTES = 2 ** 18;
const LATE = "There was no sound within 15 s; try again in a moment, or use a shorter pattern.";

const pool = new RenderPool();

/**
 * POST a beat file, get one lap as WAV, the same bytes as the page's own export.
 * Query: rate (44100, 48000, 88200, 96000), bits (16, 24, 32), mode (loop, tail).
 * 400 with the problems of a bad file, 403 for another site's page, 408 for a sender that is too slow, 413 over a limit,
 * 429 when too many ask at once and 503 after 15 s, both with Retry-After.
 */
export async function POST(request: Request): Promise<Response> {
  // Nobody's page but ours sets the server to work.
  if (request.headers.get("sec-fetch-site") === "cross-site") return refuse(403, "Another site's page can't use this.");
  try {
    const options = readOptions(new URL(request.url).searchParams);
    const rendered = await pool.render(async () => ({ file: await readBody(request), options }), request.signal);
    if (rendered === "busy") return refuse(429, "Too many renders at once; try again in a moment.", RETRY_SECONDS);
    if (rendered === "late") return refuse(503, LATE, RETRY_SECONDS);
    if (rendered === "gone") return refuse(499, "The request was called off.");
    if (!(rendered instanceof ArrayBuffer)) throw new CoreError(rendered.code, rendered.message, rendered.problems);
    return new Response(inChunks(new Uint8Array(rendered)), {
      headers: {
        "Content-Type": "audio/wav",
        "Content-Disposition": 'attachment; filename="beat.wav"',
        "Content-Length": String(rendered.byteLength),
      },
    });
  } catch (error) {
    if (request.signal.aborted) return refuse(499, "The request was called off.");
    if (error instanceof SlowSenderError) return refuse(408, error.message);
    if (!(error instanceof CoreError)) throw error;
    const status = error.code === "too-large" ? 413 : 400;
    return Response.json({ error: error.message, problems: error.problems }, { status });
  }
}

/** Sent as fast as it is taken: a `Response` of the bytes themselves would hold a second copy of them all. */
function inChunks(file: Uint8Array<ArrayBuffer>): ReadableStream<Uint8Array<ArrayBuffer>> {
  let at = 0;
  return new ReadableStream({
    pull(to) {
      if (at < file.length) to.enqueue(file.slice(at, (at += CHUNK_BYTES)));
      else to.close();
    },
  });
}

class SlowSenderError extends Error {}

function refuse(status: number, error: string, retrySeconds?: number): Response {
  const headers: HeadersInit = retrySeconds === undefined ? {} : { "Retry-After": String(retrySeconds) };
  return Response.json({ error, problems: [] }, { status, headers });
}

function readOptions(query: URLSearchParams): WavOptions {
  return {
    sampleRate: parseSampleRate(query.get("rate") ?? "48000"),
    bits: parseWavBits(query.get("bits") ?? "24"),
    mode: query.get("mode") === "tail" ? "tail" : "loop",
  };
}

/** Stops reading at the limit of size or time, whatever the headers promised. */
async function readBody({ body }: Request): Promise<Uint8Array> {
  const reader = body?.getReader();
  const chunks: Uint8Array[] = [];
  let size = 0;
  let late = false;
  const timer = setTimeout(() => {
    late = true;
    void reader?.cancel();
  }, RECEIVE_LIMIT_MS);
  try {
    for (let read = await reader?.read(); read && !read.done; read = await reader?.read()) {
      size += read.value.length;
      if (size > MAX_FILE_BYTES) {
        void reader?.cancel();
        throw new CoreError("too-large", "This file is larger than 10 MB, the most that is rendered here.");
      }
      chunks.push(read.value);
    }
  } finally {
    clearTimeout(timer);
  }
  if (late) throw new SlowSenderError("The file did not arrive within 10 s.");
  const file = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    file.set(chunk, at);
    at += chunk.length;
  }
  return file;
}
