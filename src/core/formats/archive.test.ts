import fc from "fast-check";
import { zipSync } from "fflate";
import { setPadSound } from "../beat/own-kit";
import { newBeat } from "../beat/new-beat";
import { demoBeat } from "../demo/demo-beats";
import { demoSamples } from "../demo/demo-sounds";
import { seededRandom } from "../random";
import { readArchive, sampleIdOf, writeArchive } from "./archive";
import { readBeatArchive, writeBeatArchive } from "./beat-archive";
import { readKitFile, writeKitFile } from "./kit-file";
import { kitOf } from "../beat/own-kit";
import { readSampleWav, SAMPLE_RATE, writeSampleWav } from "./sample-wav";
import { spawnSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const HARBOUR = { beat: demoBeat("Slow Harbour"), samples: demoSamples() };
const [[ID, WAV]] = Object.entries(demoSamples()) as [[string, Uint8Array<ArrayBuffer>]];

test("samples are what they were, to 24 bits, and accepted by libsndfile", () => {
  fc.assert(
    fc.property(
      fc.array(fc.float({ min: -1, max: Math.fround(0.9999), noNaN: true }), { minLength: 1, maxLength: 50 }),
      fc.boolean(),
      (samples, stereo) => {
        const channels = (stereo ? [samples, samples.toReversed()] : [samples]).map((one) => Float32Array.from(one));
        const read = readSampleWav(writeSampleWav({ sampleRate: SAMPLE_RATE, channels }));
        expect(read.channels).toHaveLength(channels.length);
        read.channels.forEach((side, at) =>
          side.forEach((sample, frame) =>
            expect(Math.abs(sample - channels[at]![frame]!)).toBeLessThanOrEqual(2 ** -24),
          ),
        );
        expect(writeSampleWav(read)).toEqual(writeSampleWav({ sampleRate: SAMPLE_RATE, channels }));
      },
    ),
  );
  const path = join(tmpdir(), "sample.wav");
  writeFileSync(path, WAV);
  const { stdout } = spawnSync("sndfile-info", [path], { encoding: "utf8" });
  expect(stdout).toMatch(/Channels +: 2/);
  expect(stdout).toMatch(/Bit Width +: 24/);
  expect(stdout).not.toMatch(/should be|error/i);
});

test("a beat with samples is a ZIP file, one without is JSON; both come back as they were", () => {
  const file = writeBeatArchive(HARBOUR) as Uint8Array;
  expect(readBeatArchive(file)).toEqual(HARBOUR);
  expect(writeBeatArchive(HARBOUR)).toEqual(file);
  const plain = newBeat({ id: "p", name: "P" });
  const text = writeBeatArchive({ beat: plain, samples: {} }) as string;
  expect(readBeatArchive(new TextEncoder().encode(text))).toEqual({ beat: plain, samples: {} });
});

test("a kit with samples comes back as it was", () => {
  const [part] = HARBOUR.beat.parts;
  const kit = kitOf(part as Parameters<typeof kitOf>[0], "Quay");
  const file = writeKitFile({ kit, samples: demoSamples() }) as Uint8Array;
  expect(readKitFile(file)).toEqual({ kit, samples: demoSamples() });
  const spoilt = writeKitFile({ kit: { ...kit, pads: [{ ...kit.pads[0]!, note: 200 }] }, samples: {} }) as string;
  expect(() => readKitFile(new TextEncoder().encode(spoilt))).toThrow("/kit/pads/0/note: must be <= 127, got 200");
});

test("a sample that is not the one that its name says, or none of ours, is refused", () => {
  const other = WAV.slice();
  other[200]! ^= 1;
  const archive = (samples: Record<string, Uint8Array>) =>
    zipSync({
      "beat.json": new TextEncoder().encode("{}"),
      ...Object.fromEntries(Object.entries(samples).map(([id, wav]) => [`samples/${id}.wav`, wav])),
    });
  expect(() => readArchive(archive({ [ID]: other }), "beat.json")).toThrow("is damaged");
  const noise = Uint8Array.of(1, 2, 3);
  expect(() => readArchive(archive({ [sampleIdOf(noise)]: noise }), "beat.json")).toThrow("no WAV file");
  expect(() => readArchive(writeArchive("kit.json", "{}", {}), "beat.json")).toThrow("has no beat.json");
});

test("more than a beat may have is refused before it is unpacked: a ZIP file may be a thousand times as large inside", () => {
  const bomb = zipSync({ "beat.json": new Uint8Array(65 * 2 ** 20) }, { level: 1 });
  expect(bomb.length).toBeLessThan(2 ** 20);
  expect(() => readArchive(bomb, "beat.json")).toThrow("50 MB");
  const many = Object.fromEntries(
    Array.from({ length: 65 }, (_, at) => [`samples/${String(at).padStart(32, "0")}.wav`, WAV]),
  );
  expect(() => readArchive(zipSync(many, { level: 0 }), "beat.json")).toThrow("64 samples");
});

test("200 spoilt archives are refused with a sentence, or whole", () => {
  const file = writeBeatArchive(HARBOUR) as Uint8Array;
  const random = seededRandom(15);
  for (let round = 0; round < 200; round++) {
    const spoilt = round % 4 === 0 ? file.slice(0, Math.floor(random() * file.length)) : file.slice();
    for (let change = 0; change < 1 + (round % 5); change++)
      spoilt[Math.floor(random() * spoilt.length)] = Math.floor(random() * 256);
    try {
      const { beat, samples } = readBeatArchive(spoilt);
      expect(beat.parts.length).toBeGreaterThan(0);
      for (const [id, wav] of Object.entries(samples)) expect(sampleIdOf(wav)).toBe(id);
    } catch (error) {
      expect((error as Error).name).toBe("CoreError");
    }
  }
});

test("sounds that make no sense are refused with where they are", () => {
  const { beat } = HARBOUR;
  const layers = beat.parts[0]!.kind === "kit" ? beat.parts[0]!.pads[7]!.layers : [];
  const [layer] = layers;
  const spoilt = (change: object) =>
    writeBeatArchive({
      beat: setPadSound(beat, beat.parts[0]!.id, 7, { layers: [{ ...layer!, ...change }] }),
      samples: {},
    }) as string;
  const read = (text: string) => () => readBeatArchive(new TextEncoder().encode(text));
  expect(read(spoilt({ velocities: [90, 20] }))).toThrow("/beat/parts/0/pads/7/layers/0/velocities: 90 is above 20");
  expect(read(spoilt({ source: { ...layer!.source, endFrame: 0 } }))).toThrow("endFrame: must be >= 1");
  expect(read(spoilt({ tuneSemitones: 25 }))).toThrow("tuneSemitones: must be <= 24, got 25");
});
