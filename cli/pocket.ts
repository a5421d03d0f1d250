import { readFileSync, writeFileSync } from "node:fs";
import { basename, extname } from "node:path";
import { parseArgs } from "node:util";
import { hitCount, type Beat } from "../src/core/beat/beat";
import { firstPlace } from "../src/core/beat/new-beat";
import { CoreError } from "../src/core/core-error";
import { demoBeat } from "../src/core/demo/demo-beats";
import { readBeatFile, writeBeatFile } from "../src/core/formats/beat-file";
import { beatToMidi } from "../src/core/formats/beat-to-midi";
import { MAX_FILE_BYTES } from "../src/core/formats/limits";
import { midiToBeat } from "../src/core/formats/midi-to-beat";
import { parseWavBits } from "../src/core/formats/wav";
import { beatToWav, parseSampleRate } from "../src/core/playback/beat-to-wav";

const USAGE = `pocket: beats on the command line

  pocket demo NAME out.json                       write a demo beat
  pocket check file.json                          say whether a beat file is sound
  pocket from-midi in.mid out.json                make a beat of a MIDI file's drums
  pocket midi beat.json out.mid [--played]        write a beat as a MIDI file, as heard or as played
  pocket render beat.json out.wav [--rate 48000] [--bits 16|24|32] [--tail]
                                                  write one lap as a WAV file, as a loop or with its tail after`;

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
    run: ([name, out]) => write(out, writeBeatFile(demoBeat(name))),
  },
  check: {
    files: 1,
    options: {},
    run: ([file]) => {
      const beat = readBeat(file);
      const patterns = beat.parts.reduce((sum, part) => sum + part.patterns.length, 0);
      console.log(
        `${file}: "${beat.name}", ${Number(beat.bpm.toFixed(2))} BPM, ${beat.meter.beats}/${beat.meter.unit}, ${patterns} patterns, ${hitCount(beat)} hits`,
      );
    },
  },
  "from-midi": {
    files: 2,
    options: {},
    run: ([file, out]) => {
      const name = basename(file, extname(file)).slice(0, 120) || "From MIDI";
      const { beat, leftOut } = midiToBeat(read(file), idFrom(name), name);
      write(out, writeBeatFile(beat));
      leftOut.forEach((line) => console.log(`left out: ${line}`));
    },
  },
  midi: {
    files: 2,
    options: { played: { type: "boolean" } },
    run: ([file, out], { played }) => {
      const beat = readBeat(file);
      write(out, beatToMidi(beat, firstPlace(beat), played ? "played" : "heard"));
    },
  },
  render: {
    files: 2,
    options: { rate: { type: "string" }, bits: { type: "string" }, tail: { type: "boolean" } },
    run: ([file, out], { rate, bits, tail }) => {
      const sampleRate = parseSampleRate(String(rate ?? 48000));
      const options = { sampleRate, bits: parseWavBits(String(bits ?? 24)), mode: tail ? "tail" : "loop" } as const;
      const beat = readBeat(file);
      write(out, beatToWav(beat, firstPlace(beat), options));
    },
  },
};

function read(file: string): Uint8Array {
  const bytes = readFileSync(file);
  if (bytes.length > MAX_FILE_BYTES) throw new CoreError("too-large", "This file is larger than 10 MB.");
  return bytes;
}

function readBeat(file: string): Beat {
  return readBeatFile(new TextDecoder().decode(read(file)));
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
  if (error instanceof Error) return error.message;
  return String(error);
}

try {
  main(process.argv.slice(2));
} catch (error) {
  console.error(`pocket: ${explain(error).replaceAll("\n", " ")}`);
  process.exitCode = 1;
}
