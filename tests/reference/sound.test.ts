import { DRUM_IDS } from "@/core/drums";
import { firstPlace } from "@/core/beat/new-beat";
import { setKit } from "@/core/beat/edits/own-kit";
import { demoBeat } from "@/core/demo/demo-beats";
import { beatToMidi } from "@/core/formats/midi/beat-to-midi";
import { writeWav } from "@/core/formats/wav/wav";
import { beatToWav } from "@/core/playback/beat-to-wav";
import { compileEvents } from "@/core/playback/compile-events";
import { layerFor, layerGain } from "@/core/sound/signal/sound";
import { drumSound, soundsOf } from "@/core/sound/kits/sound-sets";
import { renderSounds } from "@/core/sound/kits/render-sounds";
import { standInKit } from "../support/stand-in-kit";
import { KIT_LANES } from "../support/player-probe";
import { collect, lapStream } from "@/core/sound/player/render";
import { fileOf, findOnsets, monoOf, playWithFluidsynth, readWithMido, sndfileInfo, soxSamples } from "./support/tools";

const RATE = 48000;
const bank = renderSounds(soundsOf("deckhouse"), RATE);
const lantern = demoBeat("Lantern Room");
const beat = setKit(lantern, lantern.parts[0]!.id, "deckhouse");
const patternRef = firstPlace(beat);
const sound = collect(lapStream([{ table: compileEvents(beat, patternRef), lanes: KIT_LANES }], bank, "loop"));

/** Times in ms at which an independent reader says that something starts in the exported MIDI file. */
function midiTimes(): number[] {
  const { notes, tempos } = readWithMido([fileOf("lantern.mid", beatToMidi(beat, [patternRef], "heard"))])[0]!;
  return [...new Set(notes.map(([, tick]) => tick))]
    .sort((a, b) => a - b)
    .map((tick) => ((tick / 960) * tempos[0]![1]) / 1000);
}

/** The true onsets lie a little before the found ones; the same for all, so the median says by how much. */
function spread(
  found: readonly number[],
  expected: readonly number[],
): { median: number; worst: number; all: readonly number[] } {
  const delays = expected.map(
    (time) => (found.find((candidate) => candidate >= time - 2 && candidate <= time + 12) ?? NaN) - time,
  );
  const median = delays.toSorted((a, b) => a - b)[Math.floor(delays.length / 2)]!;
  return { median, worst: Math.max(...delays.map((delay) => Math.abs(delay - median))), all: delays };
}

/** SoX hands floats on with 24 bits, so the last place of a sample near 1 may differ. */
const SOX_FLOAT_STEP = 2 ** -24;

function worstDifference(a: Buffer, b: Buffer, bits: 16 | 24 | 32): number {
  if (a.length !== b.length) return Infinity;
  if (bits !== 32) return Buffer.compare(a, b);
  let worst = 0;
  for (let at = 0; at < a.length; at += 4) worst = Math.max(worst, Math.abs(a.readFloatLE(at) - b.readFloatLE(at)));
  return worst;
}

describe("WAV files in tools that are not ours", () => {
  test.each([16, 24, 32] as const)(
    "%d bits: header and loop accepted by libsndfile, samples decoded alike by SoX",
    (bits) => {
      const bytes = writeWav(
        lapStream([{ table: compileEvents(beat, patternRef), lanes: KIT_LANES }], bank, "loop"),
        bits,
        true,
      );
      const path = fileOf(`loop-${bits}.wav`, bytes);
      const info = sndfileInfo(path);
      expect(info).toMatch(new RegExp(`Frames +: ${sound.left.length}\\b`));
      expect(info).toMatch(new RegExp(`Start : +0 +End : ${sound.left.length - 1} +Fraction : +0 +Count : +0`));
      expect(info).not.toMatch(/should|\*\*\*\*|[Ee]rror/);
      const dataAt = Buffer.from(bytes).indexOf("data") + 8;
      const data = Buffer.from(bytes.buffer, bytes.byteOffset + dataAt, sound.left.length * 2 * (bits / 8));
      expect(worstDifference(soxSamples(path, bits), data, bits)).toBeLessThanOrEqual(bits === 32 ? SOX_FLOAT_STEP : 0);
    },
  );

  test("the loop's length is that of two bars to the sample, at every rate", () => {
    for (const sampleRate of [44100, 48000, 96000]) {
      const info = sndfileInfo(
        fileOf(
          `rate-${sampleRate}.wav`,
          beatToWav(beat, [patternRef], { sampleRate, bits: 16, mode: "loop" }, standInKit(sampleRate)),
        ),
      );
      // Eight quarters at 104 BPM.
      expect(info).toMatch(new RegExp(`Frames +: ${Math.round((8 * 60 * sampleRate) / 104)}\\b`));
    }
  });
});

test("the onset detector finds the render's onsets where the MIDI reader says that the notes are", async () => {
  const expected = midiTimes();
  // Two laps of the loop: the detector reports a sound at 0 as exactly 0, so the second lap is compared.
  const path = fileOf("lantern.wav", beatToWav(beat, [patternRef], { sampleRate: RATE, bits: 32, mode: "loop" }, bank));
  const lap = monoOf(soxSamples(path, 32));
  const twice = new Float32Array(lap.length * 2);
  twice.set(lap);
  twice.set(lap, lap.length);
  const lapMs = (lap.length / RATE) * 1000;
  const found = (await findOnsets(twice, RATE)).filter((time) => time > lapMs - 5).map((time) => time - lapMs);
  const { median, worst } = spread(found, expected);
  expect(found).toHaveLength(expected.length);
  // Observed for this detector on drums: 1.3 to 4 ms late, within 1.5 ms of its median.
  expect(median).toBeGreaterThan(0);
  expect(median).toBeLessThan(5);
  expect(worst).toBeLessThan(1.5);
});

test("a synthesiser that is not ours plays the exported MIDI with the same onsets", async () => {
  const path = fileOf("fluid.mid", beatToMidi(beat, [patternRef], "heard"));
  const { notes, tempos } = readWithMido([path])[0]!;
  const expected = [...new Set(notes.map(([, tick]) => tick))]
    .sort((a, b) => a - b)
    .map((tick) => ((tick / 960) * tempos[0]![1]) / 1000);
  const found = (await findOnsets(playWithFluidsynth(path), RATE, 80)).filter((time) => time > 1);
  const { median, worst } = spread(found, expected.slice(1));
  expect(median).toBeGreaterThan(2);
  expect(median).toBeLessThan(9);
  expect(worst).toBeLessThan(1.5);
});

test("every stroke of the render stands within a sample of its computed place", () => {
  const framesPerTick = (60 * RATE) / (104 * 960);
  const { passes } = beat.parts[0]!.patterns[0]!;
  const strokes = passes.flatMap(({ hits }) => hits);
  // One stroke alone in its lane at a time: the render's own voice is looked for around the line.
  for (const stroke of strokes) {
    const alone = {
      ...beat,
      parts: beat.parts.map((part) => ({
        ...part,
        patterns: part.patterns.map((pattern) => ({ ...pattern, passes: [{ ...passes[0]!, hits: [stroke] }] })),
      })),
    };
    const { left } = collect(lapStream([{ table: compileEvents(alone, patternRef), lanes: KIT_LANES }], bank, "tail"));
    const line = Math.round(stroke.played.ticks / 240) * 240;
    const drum = bank.sounds[drumSound("deckhouse", DRUM_IDS[stroke.lane]!)]!;
    const voice = drum.layers[layerFor(drum.velocities, stroke.played.velocity)]![0]!;
    const gain =
      layerGain(drum.velocities[layerFor(drum.velocities, stroke.played.velocity)]!, stroke.played.velocity) *
      drum.gainLeft;
    const misfit = (start: number) =>
      voice.reduce((worst, sample, frame) => Math.max(worst, Math.abs((left[start + frame] ?? 0) - sample * gain)), 0);
    const fits = [-3, -2, -1, 0, 1, 2, 3].filter((shift) => misfit(Math.round(line * framesPerTick) + shift) < 1e-6);
    expect(fits.length).toBe(1);
    expect(Math.abs(fits[0]!)).toBeLessThanOrEqual(1);
  }
});
