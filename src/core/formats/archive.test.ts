import fc from "fast-check";
import { zipSync } from "fflate";
import { setPadSound } from "../beat/edits/own-kit";
import { newBeat } from "../beat/new-beat";
import { demoBeat } from "../demo/demo-beats";
import { demoSamples } from "../demo/demo-sounds";
import { seededRandom } from "../random";
import { readArchive, sampleIdOf, writeArchive } from "./archive";
import { readBeatArchive, writeBeatArchive } from "./beat-archive";
import { readKitFile, writeKitFile } from "./kit-file";
import { kitOf } from "../beat/edits/own-kit";
import { SAMPLE_RATE } from "../beat/beat";
import { readSampleWav, writeSampleWav } from "./wav/sample-wav";
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

/** An archive whose directory lists its first entry so many times over. */
function repeated(archive: Uint8Array, times: number): Uint8Array {
  // APPNOTE 4.3.12 and 4.3.16, from memory: central directory headers "PK 01 02", and its end "PK 05 06" with counts, size, place.
  const view = new DataView(archive.buffer, archive.byteOffset, archive.byteLength);
  const end = archive.length - 22;
  const place = view.getUint32(end + 16, true);
  const header = archive.slice(place, place + 46 + view.getUint16(place + 28, true) + view.getUint16(place + 30, true));
  const made = new Uint8Array(place + times * header.length + 22);
  made.set(archive.subarray(0, place));
  for (let time = 0; time < times; time++) made.set(header, place + time * header.length);
  made.set(archive.subarray(end), place + times * header.length);
  const out = new DataView(made.buffer, made.length - 22);
  out.setUint16(8, times, true);
  out.setUint16(10, times, true);
  out.setUint32(12, times * header.length, true);
  return made;
}

test("a directory that lists one body over and over is refused before anything is unpacked", () => {
  const large = zipSync({ "beat.json": new Uint8Array(60 * 2 ** 20) }, { level: 1 });
  const inflate = jest.spyOn(Uint8Array.prototype, "subarray");
  expect(() => readArchive(repeated(large, 40), "beat.json")).toThrow("two files that are called beat.json");
  // Nothing as large as its body was even made.
  expect(inflate.mock.results.every(({ value }) => (value as Uint8Array).length < 2 ** 20)).toBe(true);
  inflate.mockRestore();
  const other = zipSync({ "readme.txt": new Uint8Array(1) });
  expect(() => readArchive(repeated(other, 65_000), "beat.json")).toThrow("more than 1000 files");
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
