/**
 * Measures the drums of a kit beside the drums of two General MIDI sound fonts of recordings, where their Debian packages are
 * installed (fluid-soundfont-gm, MIT; timgm6mb-soundfont, GPL): both are only listened to.
 *   npx tsx bench/kit-table.ts [KIT]
 */
import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { writeMidi } from "midi-file";
import { DRUM_IDS, DRUMS, type DrumId } from "../src/core/drums";
import { KIT_IDS, KITS, type KitId } from "../src/core/instruments";
import { renderDrum } from "../src/core/sound/kits/kit";
import { hardestStroke } from "../src/core/sound/signal/sound";
import { drumFigures, type Figures } from "./drum-figures";

const RATE = 48_000;
const FONTS = ["/usr/share/sounds/sf2/FluidR3_GM.sf2", "/usr/share/sounds/sf2/TimGM6mb.sf2"];
/** Why a figure of Deckhouse lies outside. */
const REASONS: Partial<Record<DrumId, Readonly<Record<string, string>>>> = {
  sideStick: { "125 Hz dB": "the recordings have the snare's head in it" },
  clap: {
    "63 Hz dB": "rumble of the recordings",
    partials: "many hands behind each other are noise for longer",
  },
  conga: { partials: "its overtones fall too fast for lines so narrow" },
  shaker: {
    "63 Hz dB": "rumble of the recordings",
    "125 Hz dB": "rumble of the recordings",
    "250 Hz dB": "3 dB over the recordings, which have nothing there",
  },
};
/** By how much a figure may lie outside of what the references have. */
const SLACK = { db: 3, share: 0.3 };

/** A stroke of a font's standard kit, as hard as may be, dry, both sides together. */
function reference(font: string, drum: DrumId, folder: string): Float32Array {
  const [midi, raw] = [join(folder, "stroke.mid"), join(folder, "stroke.raw")];
  const track = [
    { deltaTime: 0, type: "noteOn", channel: 9, noteNumber: DRUMS[drum].note, velocity: 127 },
    { deltaTime: 9600, type: "noteOff", channel: 9, noteNumber: DRUMS[drum].note, velocity: 0 },
    { deltaTime: 0, meta: true, type: "endOfTrack" },
  ] as const;
  writeFileSync(
    midi,
    Uint8Array.from(writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat: 480 }, tracks: [[...track]] })),
  );
  const flags = [
    "-ni",
    "-q",
    "-R",
    "0",
    "-C",
    "0",
    "-g",
    "0.5",
    "-r",
    String(RATE),
    "-T",
    "raw",
    "-O",
    "float",
    "-F",
    raw,
    font,
    midi,
  ];
  execFileSync("fluidsynth", flags, { stdio: "ignore" });
  const bytes = Uint8Array.from(readFileSync(raw));
  const both = new Float32Array(bytes.buffer);
  return middle([0, 1].map((side) => both.filter((_, at) => at % 2 === side)));
}

/** Both sides together. */
function middle(sides: readonly Float32Array[]): Float32Array {
  return sides[0]!.map((_, at) => sides.reduce((sum, side) => sum + side[at]!, 0) / sides.length);
}

type Table = Readonly<Record<DrumId, Figures>>;

function figuresOf(strokeOf: (drum: DrumId) => Float32Array): Table {
  const all = Object.fromEntries(DRUM_IDS.map((drum) => [drum, drumFigures(strokeOf(drum), RATE)])) as Table;
  const snare = all.snare["loudness LUFS"]!;
  return Object.fromEntries(
    DRUM_IDS.map((drum) => {
      const { "loudness LUFS": own, ...others } = all[drum];
      return [drum, { ...others, "loudness beside the snare dB": own! - snare }];
    }),
  ) as unknown as Table;
}

/** True where a figure lies within what the references have, widened. */
function isInside(name: string, own: number, others: readonly number[]): boolean {
  const [low, high] = [Math.min(...others), Math.max(...others)];
  if (name.endsWith("dB")) return own >= low - SLACK.db && own <= high + SLACK.db;
  return own >= low * (1 - SLACK.share) && own <= high * (1 + SLACK.share);
}

/** Prints the figures of a kit beside the references, and says how many lie inside. */
function printKit(kit: KitId, references: readonly Table[]): void {
  const own = figuresOf((drum) => middle(hardestStroke(renderDrum(kit, drum, RATE))));
  let [inside, all] = [0, 0];
  console.log(`\n${KITS[kit].name}`);
  for (const drum of DRUM_IDS) {
    const cells = Object.entries(own[drum]).flatMap(([name, value]) => {
      const others = references.flatMap((table) => table[drum][name] ?? []);
      if (value === undefined || others.length === 0) return [];
      all++;
      const good = isInside(name, value, others);
      if (good) inside++;
      const reason = good || kit !== "deckhouse" ? "" : `   ${REASONS[drum]?.[name] ?? "not explained"}`;
      const round = (one: number) => (Math.abs(one) < 10 ? one.toFixed(1) : one.toFixed(0));
      return [
        `${good ? " " : "!"} ${name.padEnd(30)} ${round(value).padStart(7)}   ${others.map(round).join(" … ")}${reason}`,
      ];
    });
    console.log(`${DRUMS[drum].name}\n${cells.join("\n")}`);
  }
  console.log(`${KITS[kit].name}: ${inside} of ${all} figures inside (${((100 * inside) / all).toFixed(0)} %)`);
}

/** The figures of the fonts that are installed. */
function referenceTables(): readonly Table[] {
  const folder = mkdtempSync(join(tmpdir(), "pocket-fonts-"));
  try {
    return FONTS.filter((font) => existsSync(font)).map((font) => figuresOf((drum) => reference(font, drum, folder)));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** Of a kit, or of all. */
export function printKits(wanted?: string): void {
  const references = referenceTables();
  if (references.length === 0) console.log("\nNo sound font is installed; there is nothing to compare kits with.");
  else for (const kit of KIT_IDS) if (!wanted || wanted === kit) printKit(kit, references);
}

if (process.argv[1]?.endsWith("kit-table.ts")) printKits(process.argv[2]);
