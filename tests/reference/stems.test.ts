import { execFileSync } from "node:child_process";
import { mkdtempSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { unzipSync } from "fflate";
import type { Beat } from "@/core/beat/beat";
import { addHits, addPass, setPad, setPart } from "@/core/beat/edit";
import { setPadMix, setPartMix } from "@/core/beat/edits/mix-edit";
import { firstPlace, firstPlaces, newBeat } from "@/core/beat/new-beat";
import { demoBeat } from "@/core/demo/demo-beats";
import { beatToStems, type StemSize } from "@/core/playback/beat-to-stems";
import { partSounds } from "@/core/playback/beat-to-wav";
import { collect, lapStream } from "@/core/sound/player/render";
import type { Ticks } from "@/core/time/ticks";
import { demoBank } from "../support/demo-bank";
import { fileOf, sndfileInfo, soxSamples } from "./support/tools";

const OPTIONS = { sampleRate: 48_000, bits: 32, mode: "tail" } as const;

/** Taken out of the ZIP file by Python, and read by SoX: left and right in turn. */
function stemsOf(beat: Beat, size: StemSize): ReadonlyMap<string, Float32Array> {
  const zip = fileOf(
    "stems.zip",
    beatToStems(beat, firstPlaces(beat), size, OPTIONS, () => demoBank(beat, OPTIONS.sampleRate)),
  );
  const folder = mkdtempSync(join(tmpdir(), "stems-"));
  execFileSync("python3", ["-m", "zipfile", "-e", zip, folder]);
  return new Map(
    readdirSync(folder).map((name) => {
      const path = join(folder, name);
      const info = sndfileInfo(path);
      expect(info).toContain("Channels    : 2");
      expect(info).not.toMatch(/should be|should have|error/i);
      const bytes = soxSamples(path, 32);
      return [name, new Float32Array(new Uint8Array(bytes).buffer)];
    }),
  );
}

/** The greatest difference between the sum of stems and the whole, in samples. */
function greatestDifference(beat: Beat, stems: ReadonlyMap<string, Float32Array>): number {
  const places = firstPlaces(beat);
  const { sampleRate, mode } = OPTIONS;
  const bank = demoBank(beat, sampleRate);
  const { left, right } = collect(
    lapStream(partSounds(beat, places, sampleRate), bank, mode, { limited: false, room: false }),
  );
  let most = 0;
  for (let frame = 0; frame < left.length; frame++)
    for (const [at, whole] of [left, right].entries()) {
      let sum = 0;
      for (const samples of stems.values()) sum += samples[2 * frame + at] ?? 0;
      most = Math.max(most, Math.abs(sum - whole[frame]!));
    }
  return most;
}

// As loud as goes through SoX, which clips what it reads above full scale.
const LOUD = firstPlaces(demoBeat("Slow Harbour")).reduce(
  (now, { partId }) => setPartMix(now, partId, { levelDb: 6 }),
  demoBeat("Slow Harbour"),
);

// A sample of 24 bits is 1.2e-7 of full scale; rounding of single precision adds up to some of these over 64 voices.
test.each([
  ["part", ["Cabin.wav", "Keel.wav", "Kit.wav"]],
  [
    "pad",
    [
      "Cabin.wav",
      "Keel.wav",
      ...["Closed hat", "Conga", "Kick", "Open hat", "Shaker", "Side stick", "Snare"].map((pad) => `Kit ${pad}.wav`),
    ],
  ],
] as const)("the stems of a demo beat, a WAV a %s, add up to the whole, as loud as it gets", (size, names) => {
  const stems = stemsOf(LOUD, size);
  expect([...stems.keys()].sort()).toEqual(names);
  expect(greatestDifference(LOUD, stems)).toBeLessThan(1e-6);
});

test("no limiter holds a stem that is too loud by itself", () => {
  const louder = setPartMix(LOUD, LOUD.parts[0]!.id, { levelDb: 12 });
  const wav = Buffer.from(
    unzipSync(beatToStems(louder, firstPlaces(louder), "part", OPTIONS, demoBank(louder, 48_000)))["Kit.wav"]!,
  );
  // SoX would clip what it reads.
  const data = wav.subarray(wav.indexOf("data") + 8);
  const samples = Array.from({ length: data.length >> 2 }, (_, index) => Math.abs(data.readFloatLE(4 * index)));
  expect(samples.reduce((most, one) => Math.max(most, one), 0)).toBeGreaterThan(1.1);
});

test("a stem has the level and the place of its pad", () => {
  const peakOf = (samples: Float32Array, side: 0 | 1) =>
    samples.reduce((most, sample, index) => (index % 2 === side ? Math.max(most, Math.abs(sample)) : most), 0);
  const plain = stemsOf(LOUD, "pad").get("Kit Closed hat.wav")!;
  const left = setPadMix(LOUD, LOUD.parts[0]!.id, 8, { pan: -1, levelDb: -6 });
  const moved = stemsOf(left, "pad").get("Kit Closed hat.wav")!;
  expect(peakOf(moved, 1)).toBeLessThan(1e-6);
  // Half as loud, and all of it on one side: the square root of two more.
  expect(peakOf(moved, 0) / peakOf(plain, 0)).toBeCloseTo(Math.SQRT2 * Math.pow(10, -6 / 20), 2);
});

test("what is cut off by another pad is cut off in its stem; what is silent has none", () => {
  const empty = newBeat({ id: "s", name: "S", bpm: 120, bars: 1 });
  const patternRef = firstPlace(empty);
  const { beat: ready, passId } = addPass(empty, patternRef, {
    name: "P",
    muted: false,
    quantize: empty.inputQuantize,
  });
  const [OPEN_HAT, PEDAL_HAT, KICK, CLAP] = [9, 10, 0, 3];
  const hits = [
    [OPEN_HAT, 0],
    [PEDAL_HAT, 480],
    [KICK, 960],
    [CLAP, 1920],
  ].map(([lane, ticks]) => ({
    lane: lane!,
    played: { ticks: ticks as Ticks, velocity: 110 },
    lengthTicks: 60 as Ticks,
  }));
  const beat = setPad(addHits(ready, patternRef, passId, hits), patternRef.partId, CLAP, { muted: true });
  const stems = stemsOf(beat, "pad");
  expect([...stems.keys()].sort()).toEqual(["Kit Kick.wav", "Kit Open hat.wav", "Kit Pedal hat.wav"]);
  expect(greatestDifference(beat, stems)).toBeLessThan(1e-6);
  // A quarter of a second, and the hand's 25 ms.
  const open = stems.get("Kit Open hat.wav")!;
  expect(open.findLastIndex((sample) => sample !== 0) / 2 / 48_000).toBeLessThan(0.28);
  const silent = setPart(beat, patternRef.partId, { muted: true });
  expect(() => beatToStems(silent, [patternRef], "pad", OPTIONS)).toThrow("Nothing sounds");
});
