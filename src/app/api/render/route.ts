import { firstPlace } from "@/core/beat/new-beat";
import { CoreError } from "@/core/core-error";
import { readBeatFile } from "@/core/formats/beat-file";
import { MAX_FILE_BYTES } from "@/core/formats/limits";
import { parseWavBits } from "@/core/formats/wav";
import { renderOnServer } from "./render-on-server";
import { parseSampleRate } from "@/core/playback/beat-to-wav";

/**
 * POST a beat file, get one lap as WAV, the same bytes as the page's own export.
 * Query: rate (44100, 48000, 88200, 96000), bits (16, 24, 32), mode (loop, tail).
 * 400 with the problems of a bad file, 413 over a limit, 503 after 15 s.
 */
export async function POST(request: Request): Promise<Response> {
  try {
    const query = new URL(request.url).searchParams;
    const sampleRate = parseSampleRate(query.get("rate") ?? "48000");
    const bits = parseWavBits(query.get("bits") ?? "24");
    const mode = query.get("mode") === "tail" ? "tail" : "loop";
    const beat = readBeatFile(await readText(request));
    const wav = await renderOnServer({ beat, place: firstPlace(beat), options: { sampleRate, bits, mode } });
    if (!wav)
      return Response.json(
        { error: "Rendering took longer than 15 s; use a shorter pattern.", problems: [] },
        { status: 503 },
      );
    return new Response(wav as BodyInit, {
      headers: { "Content-Type": "audio/wav", "Content-Disposition": 'attachment; filename="beat.wav"' },
    });
  } catch (error) {
    if (!(error instanceof CoreError)) throw error;
    const status = error.code === "too-large" ? 413 : 400;
    return Response.json({ error: error.message, problems: error.problems }, { status });
  }
}

/** Stops reading at the limit, whatever the headers promised. */
async function readText(request: Request): Promise<string> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += chunk.length;
    if (size > MAX_FILE_BYTES)
      throw new CoreError("too-large", "This file is larger than 10 MB, the most a beat file may have.");
    chunks.push(chunk);
  }
  return Buffer.concat(chunks).toString("utf8");
}
