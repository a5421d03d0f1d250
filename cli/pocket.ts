import { readFileSync, writeFileSync } from "node:fs";
import { basename, extname } from "node:path";
import { parseArgs } from "node:util";
import { adviseGrid, bareGrid } from "../src/core/analysis/grid-advice";
import { hitCount, type Beat, type PatternRef, type QuantizeSettings } from "../src/core/beat/beat";
import { GROOVE_GRIDS, type Feel } from "../src/core/beat/feel";
import { firstPlaces } from "../src/core/beat/new-beat";
import { CoreError } from "../src/core/core-error";
import { samplesIn } from "../src/core/beat/samples/pad-samples";
import { demoBeat } from "../src/core/demo/demo-beats";
import { demoSamples } from "../src/core/demo/demo-sounds";
import { readBeatArchive, readSamples, writeBeatArchive, type BeatWithSamples } from "../src/core/formats/beat-archive";
import { writeBeatFile } from "../src/core/formats/beat-file";
import { beatToMidi } from "../src/core/formats/midi/beat-to-midi";
import { readFreePlayings, readLoopPlayings, type FreePlaying } from "../src/core/formats/echo-json";
import { readGrooveFile, writeGrooveFile } from "../src/core/formats/groove-file";
import { MAX_BEAT_FILE_BYTES, MAX_FILE_BYTES, MAX_SAMPLE_BYTES } from "../src/core/limits";
import { midiStrokes } from "../src/core/formats/midi/midi-strokes";
import { midiToBeat } from "../src/core/formats/midi/midi-to-beat";
import { retimeMidi } from "../src/core/formats/midi/retime-midi";
import { parseWavBits } from "../src/core/formats/wav/wav";
import { LAP_FOLDS } from "../src/core/recover/bring-back-along";
import { foldLaps } from "../src/core/recover/fold-laps";
import { findReadings } from "../src/core/recover/readings/readings";
import { THINKABLE_METERS } from "../src/core/recover/readings/reading";
import { LINE_GRID_NAMES, type LineGridName } from "../src/core/time/grid";
import { extractGroove } from "../src/core/timing/extract-groove";
import { beatToStems, STEM_SIZES } from "../src/core/playback/beat-to-stems";
import { beatToWav, parseSampleRate } from "../src/core/playback/beat-to-wav";
import { soundsStruck } from "../src/core/playback/part-sounds";
import { renderSounds } from "../src/core/sound/kits/render-sounds";

const USAGE = `pocket: beats on the command line

  pocket demo NAME out.json                       write a demo beat; with samples it is a ZIP file
  pocket check file.json                          say whether a beat file is sound
  pocket from-midi in.mid out.json [--drums-only] make a beat of a MIDI file, a part a channel, or of its drums alone
  pocket midi beat.json out.mid [--played] [--part NAME]
                                                  write a beat as a MIDI file, as heard or as played, a track a part
  pocket render beat.json out.wav [--rate 48000] [--bits 16|24|32] [--tail] [--part NAME]
                                                  write one lap as a WAV file, as a loop or with its tail after
  pocket stems beat.json out.zip [--size part|pad] [--rate 48000] [--bits 16|24|32] [--loop]
                                                  write one lap taken apart, WAVs that add up to it, without the limiter
  pocket timing in.mid out.mid [--grid 1/16[,1/8T]] [--adaptive] [--strength 100] [--reach 100]
                [--swing 58] [--swing-unit 1/8|1/16] [--groove g.json] [--timing 100] [--velocity 100]
                                                  correct, swing and groove the drums of a MIDI file
  pocket groove in.mid out.json [--grid 1/8|1/8T|1/16|1/16T] [--bars 1|2] [--name NAME]
                                                  make a groove of the drums in a MIDI file
  pocket advise in.mid [--grid 1/16]              say, as JSON, on which grid the drums were played
  pocket recover in.json                          say, as JSON, how fast echoes were played, where their bars begin and
                                                  how long they are: [{ id, hits: [{ time, note, velocity }], meter? }]
  pocket fold in.json [--laps merged|last|one|takes|unrolled] [--lap N]
                                                  say, as JSON, what laps of a loop are as one pattern, in ticks:
                                                  [{ id, bpm, hits, meter?, bars?, start? }]`;

/** A wrong call of the command, as against wrong data. */
class UsageError extends Error {}

interface Verb {
  readonly files: number;
  readonly options: Readonly<Record<string, { readonly type: "string" | "boolean" }>>;
  run(files: readonly string[], options: Readonly<Record<string, string | boolean | undefined>>): void;
}

const VERBS: Readonly<Record<string, Verb>> = {
  demo: {
    files: 2,
    options: {},
    run: ([name, out]) => {
      const beat = demoBeat(name!);
      const used = new Set(samplesIn(beat));
      const samples = Object.entries(demoSamples()).filter(([id]) => used.has(id));
      write(out!, writeBeatArchive({ beat, samples: Object.fromEntries(samples) }));
    },
  },
  check: {
    files: 1,
    options: {},
    run: ([file]) => {
      const { beat } = readBeat(file!);
      const patterns = beat.parts.reduce((sum, part) => sum + part.patterns.length, 0);
      console.log(
        `${file}: "${beat.name}", ${Number(beat.bpm.toFixed(2))} BPM, ${beat.meter.beats}/${beat.meter.unit}, ${patterns} patterns, ${hitCount(beat)} hits`,
      );
    },
  },
  "from-midi": {
    files: 2,
    options: { "drums-only": { type: "boolean" } },
    run: ([file, out], options) => {
      const name = basename(file!, extname(file!)).slice(0, 120) || "From MIDI";
      const { beat, leftOut } = midiToBeat(read(file!), idFrom(name), name, {
        drumsOnly: options["drums-only"] === true,
      });
      write(out!, writeBeatFile(beat));
      leftOut.forEach((line) => console.log(`left out: ${line}`));
    },
  },
  midi: {
    files: 2,
    options: { played: { type: "boolean" }, part: { type: "string" } },
    run: ([file, out], { played, part }) => {
      const { beat } = readBeat(file!);
      write(out!, beatToMidi(beat, placesOf(beat, part), played ? "played" : "heard"));
    },
  },
  timing: {
    files: 2,
    options: {
      grid: { type: "string" },
      adaptive: { type: "boolean" },
      strength: { type: "string" },
      reach: { type: "string" },
      swing: { type: "string" },
      "swing-unit": { type: "string" },
      groove: { type: "string" },
      timing: { type: "string" },
      velocity: { type: "string" },
    },
    run: ([file, out], options) => write(out!, retimeMidi(read(file!), parseQuantize(options), parseFeel(options))),
  },
  groove: {
    files: 2,
    options: { grid: { type: "string" }, bars: { type: "string" }, name: { type: "string" } },
    run: ([file, out], { grid = "1/16", bars = "1", name = basename(file!, extname(file!)) }) => {
      const { strokes, barTicks } = midiStrokes(read(file!));
      const frame = {
        name: String(name).slice(0, 120) || "Groove",
        grid: oneOf("--grid", String(grid), GROOVE_GRIDS),
        bars: Number(oneOf("--bars", String(bars), ["1", "2"])) as 1 | 2,
        barTicks,
      };
      const { groove, fit } = extractGroove(strokes, frame);
      write(out!, writeGrooveFile(groove));
      const percent = Math.round(fit.share * 100);
      console.log(`${fit.hits} hits on ${fit.playedLines} of ${fit.lines} lines; it stands for ${percent} % of them`);
    },
  },
  advise: {
    files: 1,
    options: { grid: { type: "string" } },
    run: ([file], { grid = "1/16" }) => {
      const { strokes, bpm, barTicks } = midiStrokes(read(file!));
      const set = bareGrid(oneOf("--grid", String(grid), LINE_GRID_NAMES), barTicks);
      const advice = adviseGrid(strokes, bpm, barTicks, set);
      if (!advice) throw new CoreError("bad-value", "No grid can be told from these drum notes.");
      console.log(JSON.stringify(advice, null, 1));
    },
  },
  recover: {
    files: 1,
    options: {},
    run: ([file]) => {
      const playings = readFreePlayings(new TextDecoder().decode(read(file!)));
      console.log(JSON.stringify(playings.map(recovered)));
    },
  },
  fold: {
    files: 1,
    options: { laps: { type: "string" }, lap: { type: "string" } },
    run: ([file], { laps = "merged", lap = "1" }) => {
      const fold = oneOf("--laps", String(laps), LAP_FOLDS);
      if (!/^[1-9]\d*$/.test(String(lap))) throw new UsageError(`--lap must be 1 or more; got "${lap}".`);
      const playings = readLoopPlayings(new TextDecoder().decode(read(file!)));
      const way = { kind: "along", fold, lap: Number(lap) - 1 } as const;
      console.log(JSON.stringify(playings.map((playing) => ({ id: playing.id, ...foldLaps(playing, way) }))));
    },
  },
  stems: {
    files: 2,
    options: {
      size: { type: "string" },
      rate: { type: "string" },
      bits: { type: "string" },
      loop: { type: "boolean" },
    },
    run: ([file, out], { size = "part", rate, bits, loop }) => {
      const sampleRate = parseSampleRate(String(rate ?? 48000));
      const options = { sampleRate, bits: parseWavBits(String(bits ?? 24)), mode: loop ? "loop" : "tail" } as const;
      const { beat, samples } = readBeat(file!);
      const places = firstPlaces(beat);
      const sounds = () => renderSounds(soundsStruck(beat, places), sampleRate, {}, readSamples(samples));
      write(out!, beatToStems(beat, places, oneOf("--size", String(size), STEM_SIZES), options, sounds));
    },
  },
  render: {
    files: 2,
    options: {
      rate: { type: "string" },
      bits: { type: "string" },
      tail: { type: "boolean" },
      part: { type: "string" },
    },
    run: ([file, out], { rate, bits, tail, part }) => {
      const sampleRate = parseSampleRate(String(rate ?? 48000));
      const options = { sampleRate, bits: parseWavBits(String(bits ?? 24)), mode: tail ? "tail" : "loop" } as const;
      const { beat, samples } = readBeat(file!);
      const places = placesOf(beat, part);
      const sounds = () => renderSounds(soundsStruck(beat, places), sampleRate, {}, readSamples(samples));
      write(out!, beatToWav(beat, places, options, sounds));
    },
  },
};

/** All parts in their first patterns, or the one of a name. */
function placesOf(beat: Beat, name: string | boolean | undefined): readonly PatternRef[] {
  if (name === undefined) return firstPlaces(beat);
  const index = beat.parts.findIndex((part) => part.name === name);
  if (index < 0)
    throw new UsageError(
      `There is no part ${name} in ${beat.name}: it has ${beat.parts.map((part) => part.name).join(", ")}.`,
    );
  return [firstPlaces(beat)[index]!];
}

function recovered({ id, hits, meter }: FreePlaying) {
  const startMs = performance.now();
  const readings = findReadings(hits, meter ? [meter] : THINKABLE_METERS);
  const ms = Math.round((performance.now() - startMs) * 100) / 100;
  const candidates = readings.map(({ bpm, downbeat, bars, meter: { beats, unit }, confidence, reasons }) => ({
    bpm,
    downbeat,
    bars,
    meter: [beats, unit],
    confidence,
    reasons,
  }));
  return { id, candidates, ms };
}

type Options = Parameters<Verb["run"]>[1];

function oneOf<T extends string>(name: string, value: string, known: readonly T[]): T {
  const found = known.find((candidate) => candidate === value);
  if (found === undefined) throw new UsageError(`${name} must be one of ${known.join(", ")}; got "${value}".`);
  return found;
}

function parsePercent(name: string, value: Options[string], low: number, high: number): number {
  const percent = Number(value);
  if (value === "" || !(percent >= low && percent <= high))
    throw new UsageError(`--${name} must be ${low} to ${high} per cent; got "${value}".`);
  return percent / 100;
}

function parseQuantize({ grid = "1/16", adaptive, strength = "100", reach = "100" }: Options): QuantizeSettings {
  const names = String(grid).split(",");
  const [first, ...mix] = names.length === 1 && names[0] === "off" ? ["off" as const] : names.map(lineGrid);
  return {
    grid: first,
    strength: parsePercent("strength", strength, 0, 100),
    reach: parsePercent("reach", reach, 0, 100),
    ...(mix.length > 0 && { mix: mix as LineGridName[] }),
    ...(adaptive && { adaptive: true as const }),
  };
}

function lineGrid(text: string): LineGridName {
  return oneOf("--grid", text.trim(), LINE_GRID_NAMES);
}

function parseFeel(options: Options): Feel {
  const { swing, groove, timing = "100", velocity = "100" } = options;
  const unit = oneOf("--swing-unit", String(options["swing-unit"] ?? "1/16"), ["1/8", "1/16"]);
  return {
    ...(swing !== undefined && { swing: { ratio: parsePercent("swing", swing, 50, 75), unit } }),
    ...(groove !== undefined && {
      groove: {
        groove: readGrooveFile(new TextDecoder().decode(read(String(groove)))),
        timing: parsePercent("timing", timing, 0, 100),
        velocity: parsePercent("velocity", velocity, 0, 100),
      },
    }),
  };
}

function read(file: string, most = MAX_FILE_BYTES): Uint8Array {
  const bytes = readFileSync(file);
  if (bytes.length > most) throw new CoreError("too-large", `This file is larger than ${most / 2 ** 20} MB.`);
  return bytes;
}

function readBeat(file: string): BeatWithSamples {
  return readBeatArchive(read(file, MAX_BEAT_FILE_BYTES + MAX_SAMPLE_BYTES));
}

function write(file: string, content: string | Uint8Array): void {
  writeFileSync(file, content);
}

function idFrom(name: string): string {
  return name.replace(/[^A-Za-z0-9_-]+/g, "-").slice(0, 64) || "beat";
}

function main([verbName = "", ...rest]: readonly string[]): void {
  if (verbName === "" || verbName === "help" || verbName === "--help") {
    console.log(USAGE);
    return;
  }
  const verb = Object.hasOwn(VERBS, verbName) ? VERBS[verbName] : undefined;
  if (!verb) throw new UsageError(`There is no verb "${verbName}"; there are ${Object.keys(VERBS).join(", ")}.`);
  const { values, positionals } = parseArgs({ args: [...rest], options: verb.options, allowPositionals: true });
  if (positionals.length !== verb.files)
    throw new UsageError(`"${verbName}" takes ${verb.files} names, got ${positionals.length}; see "pocket help".`);
  verb.run(positionals, values as Record<string, string | boolean | undefined>);
}

/** Bad input ends with one line; a stack belongs to a defect of ours, and even then one line says so. */
function explain(error: unknown): string {
  if (error instanceof CoreError) return [error.message, ...error.problems.slice(1, 6)].join(" ");
  const { code, path } = (error ?? {}) as { readonly code?: unknown; readonly path?: unknown };
  const told = typeof code === "string" ? FILE_TROUBLE[code] : undefined;
  if (told) return told(String(path));
  if (error instanceof Error) return error.message;
  return String(error);
}

/** Messages for the system's error codes of files. */
const FILE_TROUBLE: Readonly<Record<string, (path: string) => string>> = {
  ENOENT: (path) => `There is no "${path}", or no folder for it.`,
  EISDIR: (path) => `"${path}" is a folder; a file is wanted.`,
  ENOTDIR: (path) => `"${path}" is within something that is no folder.`,
  EACCES: (path) => `"${path}" may not be read or written.`,
  ENOSPC: (path) => `There is no room for "${path}".`,
};

try {
  main(process.argv.slice(2));
} catch (error) {
  console.error(`pocket: ${explain(error).replaceAll("\n", " ")}`);
  process.exitCode = 1;
}
