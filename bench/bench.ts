import { firstPlace, newBeat } from "../src/core/beat/new-beat";
import { adviseGrid, bareGrid } from "../src/core/analysis/grid-advice";
import { addHits, addPass, editPattern, numberHit } from "../src/core/beat/edit";
import type { Beat } from "../src/core/beat/beat";
import { beatToWav } from "../src/core/playback/beat-to-wav";
import { compileEvents } from "../src/core/playback/compile-events";
import { seededRandom } from "../src/core/random";
import { placeIn } from "../src/core/record/placed-stroke";
import { recordStroke, startRecording } from "../src/core/record/record-stroke";
import { splitEchoes, type LookbackHit } from "../src/core/recover/echo";
import { findReadings } from "../src/core/recover/readings/readings";
import { LIKELY_METERS } from "../src/core/recover/readings/reading";
import type { LoopSpan } from "../src/core/time/loop-span";
import { partLanes } from "../src/core/playback/part-sounds";
import type { SoundBank } from "../src/core/sound/signal/sound";
import { soundsOf } from "../src/core/sound/kits/sound-sets";
import { renderSounds } from "../src/core/sound/kits/render-sounds";
import type { EventTable } from "@/core/sound/player/event-table";
import { newKernel } from "../src/core/sound/kernel/new-kernel";
import { Player } from "../src/core/sound/player/player";
import { BUILT_IN_GROOVES } from "../src/core/timing/built-in-grooves";
import { resolveTiming } from "../src/core/timing/resolve-timing";
import type { Ticks } from "../src/core/time/ticks";
import { firstLoadKilobytes } from "../tests/support/bundle-size";
import { beatOf, inParts } from "./generated-beats";
import { historyRows } from "./history-cost";
import { printKits } from "./kit-table";
import { soundRows } from "./sound-cost";
import { renderRows } from "./render-cost";
import { browserRows } from "./in-browser";
import type { Row } from "./row";

const RATE = 48000;
/** As in the audio thread. */
const SAMPLE_BYTES = 128 * 2 ** 20;

const KIT = newBeat({ id: "kit", name: "Kit" });

/** So many strokes in phrases of two hundred, unsteadily played. */
function rememberedHits(count: number): readonly LookbackHit[] {
  const random = seededRandom(2);
  return Array.from({ length: count }, (_, index) => ({
    timeMs: Math.floor(index / 200) * 30_000 + (index % 200) * 125 + 16 * (random() - 0.5),
    pad: index % 4,
    note: [36, 42, 38, 42][index % 4]!,
    velocity: 60 + Math.floor(60 * random()),
    device: "bench",
    beatId: "bench",
    partId: 1,
  }));
}

/** The median of several runs, after some to warm up: the app does the same work with every edit. */
function milliseconds(work: () => void, segments = 9, warmUps = 1): number {
  for (let index = 0; index < warmUps; index++) work();
  const times = Array.from({ length: segments }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return times.sort((a, b) => a - b)[Math.floor(segments / 2)]!;
}

/** Parts that play the same events. */
function partTables(parts: number, hits: number, bars: number): readonly EventTable[] {
  const beat = beatOf(hits, bars);
  const table = compileEvents(beat, firstPlace(beat));
  return Array.from({ length: parts }, (_, partId) => ({ ...table, partId }));
}

/**
 * What the longest block takes while parts play, and what setting their tables takes, as shares of a block's time. Of several runs over the same blocks the shortest time of each block counts: what the machine does besides is left out.
 */
function longestBlock(
  bank: SoundBank,
  tables: readonly EventTable[],
): { readonly worstShare: number; readonly setShare: number } {
  const blockMs = (1000 * 128) / RATE;
  const [left, right] = [new Float32Array(128), new Float32Array(128)];
  const player = new Player(RATE, tables[0]!, undefined, newKernel(RATE, SAMPLE_BYTES));
  player.addSounds(bank.sounds);
  for (const { partId } of tables) player.setLanes(partId, partLanes(KIT, KIT.parts[0]!));
  player.setTables(tables);
  const blocks = 4000;
  const shortest = new Float64Array(blocks).fill(Infinity);
  let setMs = Infinity;
  for (let segment = 0; segment < 7; segment++) {
    player.start({ segment, fromTicks: 0 as Ticks, countIn: false });
    for (let block = 0; block < blocks; block++) {
      const start = performance.now();
      player.process(left, right);
      shortest[block] = Math.min(shortest[block]!, performance.now() - start);
    }
    const start = performance.now();
    player.setTables(tables.map((table) => ({ ...table })));
    setMs = Math.min(setMs, performance.now() - start);
  }
  return { worstShare: (100 * Math.max(...shortest)) / blockMs, setShare: (100 * setMs) / blockMs };
}

/** Processor time, the median of five runs. */
function cpuMilliseconds(work: () => void): number {
  const times = Array.from({ length: 5 }, () => {
    const start = process.cpuUsage();
    work();
    const { user, system } = process.cpuUsage(start);
    return (user + system) / 1000;
  });
  return times.sort((a, b) => a - b)[2]!;
}

/** Every hit with a grid of its own, each another object, as after reading a file. */
function withOwnSettings(beat: Beat): Beat {
  return editPattern(beat, firstPlace(beat), (pattern) => ({
    ...pattern,
    passes: pattern.passes.map((pass) => ({
      ...pass,
      hits: pass.hits.map((hit) => numberHit({ ...hit, quantize: { grid: "1/16", strength: 1, reach: 1 } }, hit.id)),
    })),
  }));
}

function firstLoadRow(name: string, page: string, budgetKilobytes: number): Row {
  const kilobytes = firstLoadKilobytes(page);
  return {
    what: `first-load JavaScript of the ${name}`,
    budget: `< ${budgetKilobytes} kB compressed`,
    measured: kilobytes === undefined ? "no build yet: npm run build" : `${kilobytes.toFixed(0)} kB`,
    kept: kilobytes === undefined || kilobytes < budgetKilobytes,
  };
}

function rows(): Row[] {
  const bank = renderSounds(soundsOf("deckhouse"), RATE);
  const many = beatOf(10_000, 64);
  const patternRef = firstPlace(many);
  // Another meter every time: what is heard of what does not change is remembered.
  const heardMs = milliseconds(() => void resolveTiming(many.parts[0]!.patterns[0]!, { ...many.meter }), 15, 40);
  const { beat: open, passId } = addPass(many, patternRef, {
    name: "Pass 2",
    muted: false,
    quantize: many.inputQuantize,
  });
  compileEvents(open, patternRef);
  const compileMs = milliseconds(
    () => {
      const stroke = { lane: 0, played: { ticks: 100 as Ticks, velocity: 90 }, lengthTicks: 60 as Ticks };
      compileEvents(addHits(open, patternRef, passId, [stroke]), patternRef);
    },
    15,
    5,
  );
  const recordMs = milliseconds(() => {
    const span = { startTicks: 0 as Ticks, lengthTicks: 16 * 3840 * 4 } as LoopSpan;
    const run = { segment: 1, patternRef, span, bpm: many.bpm, opens: false, timingView: "grooved" as const };
    const placed = placeIn(many, run, { lane: 3, velocity: 90 }, 1000 as Ticks);
    recordStroke(many, startRecording(patternRef, "overdub"), placed);
  });

  const feel = {
    swing: { ratio: 0.6, unit: "1/16" },
    groove: { groove: BUILT_IN_GROOVES[7]!, timing: 0.8, velocity: 0.8 },
    padAmounts: { 0: 0, 3: 0.5 },
  } as const;
  const grooved = { ...many.parts[0]!.patterns[0]!, ...feel };
  const groovedMs = milliseconds(() => void resolveTiming(grooved, { ...many.meter }), 15, 40);
  const asked = grooved.passes.flatMap(({ hits }) => hits).slice(-300);
  const advisedHits = asked.map(({ id, played: { ticks } }) => ({ id, ticks }));
  const adviceMs = milliseconds(
    () => void adviseGrid(advisedHits, many.bpm, 3840 as Ticks, bareGrid("1/16", 3840 as Ticks)),
    15,
    20,
  );

  const remembered = rememberedHits(20_000);
  const splitMs = milliseconds(() => void splitEchoes(remembered), 9, 5);
  const phrase = remembered
    .slice(0, 200)
    .map(({ timeMs, note, velocity }) => ({ time: timeMs / 1000, note, velocity }));
  const knownMs = milliseconds(() => void findReadings(phrase, [many.meter]), 9, 30);
  const readingMs = milliseconds(() => void findReadings(phrase, LIKELY_METERS), 9, 30);

  const loop = beatOf(128, 4);
  const wavMs = milliseconds(
    () => void beatToWav(loop, [patternRef], { sampleRate: RATE, bits: 24, mode: "loop" }, bank),
    5,
  );
  const realTime = (4 * 4 * 500) / wavMs;
  const exportMs = cpuMilliseconds(
    () => void beatToWav(loop, [patternRef], { sampleRate: RATE, bits: 24, mode: "loop" }, bank),
  );
  const own = withOwnSettings(many).parts[0]!.patterns[0]!;
  const ownMs = milliseconds(() => void resolveTiming(own, { ...many.meter }), 15, 40);

  const player = new Player(RATE, compileEvents(beatOf(2000, 2), patternRef), undefined, newKernel(RATE, SAMPLE_BYTES));
  player.addSounds(bank.sounds);
  player.setLanes(patternRef.partId, partLanes(KIT, KIT.parts[0]!));
  player.start({ segment: 1, fromTicks: 0 as Ticks, countIn: false });
  const [left, right] = [new Float32Array(128), new Float32Array(128)];
  const blocks = (10 * RATE) / 128;
  const audioMs = milliseconds(() => {
    for (let block = 0; block < blocks; block++) player.process(left, right);
  }, 3);
  const large = longestBlock(bank, partTables(1, 100_000, 256));
  const eight = longestBlock(bank, partTables(8, 10_000, 64));
  return [
    { what: "heard() for 10,000 hits", budget: "< 10 ms", measured: `${heardMs.toFixed(1)} ms`, kept: heardMs < 10 },
    {
      what: "the same with swing, groove and shares",
      budget: "< 10 ms",
      measured: `${groovedMs.toFixed(1)} ms`,
      kept: groovedMs < 10,
    },
    {
      what: "the same with settings of its own for every hit",
      budget: "< 10 ms",
      measured: `${ownMs.toFixed(1)} ms`,
      kept: ownMs < 10,
    },
    {
      what: "grid advice for 300 hits",
      budget: "< 50 ms",
      measured: `${adviceMs.toFixed(1)} ms`,
      kept: adviceMs < 50,
    },
    {
      what: "20,000 hits split into phrases",
      budget: "< 50 ms",
      measured: `${splitMs.toFixed(1)} ms`,
      kept: splitMs < 50,
    },
    {
      what: "readings of a 200-hit echo, meter known, not known",
      budget: "< 20 ms",
      measured: `${knownMs.toFixed(1)} ms, ${readingMs.toFixed(1)} ms`,
      kept: readingMs < 20,
    },
    {
      what: "a stroke into 10,000 hits, and the event table that it makes",
      budget: "< 15 ms",
      measured: `${compileMs.toFixed(1)} ms`,
      kept: compileMs < 15,
    },
    {
      what: "a stroke recorded into 10,000 hits",
      budget: "< 1 ms",
      measured: `${recordMs.toFixed(2)} ms`,
      kept: recordMs < 1,
    },
    ...historyRows(beatOf(100_000, 64), many, patternRef, cpuMilliseconds),
    {
      what: "4 bars, 16 pads, 128 hits to WAV",
      budget: ">= 50 x real time",
      measured: `${realTime.toFixed(0)} x`,
      kept: realTime >= 50,
    },
    {
      what: "the same with the kit known: processor time of an export or a server's render",
      budget: "< 300 ms",
      measured: `${exportMs.toFixed(0)} ms`,
      kept: exportMs < 300,
    },
    {
      what: "audio thread, 2,000 hits in 2 bars, 64 voices",
      budget: "< 25 % of real time",
      measured: `${(audioMs / 100).toFixed(1)} %`,
      kept: audioMs < 2500,
    },
    {
      what: "audio thread, 100,000 events: worst block, setting the table",
      budget: "< 25 %, < 25 % of a block's time",
      measured: `${large.worstShare.toFixed(1)} %, ${large.setShare.toFixed(1)} %`,
      kept: large.worstShare < 25 && large.setShare < 25,
    },
    {
      what: "audio thread, eight parts of 10,000 events each: worst block, setting all tables",
      budget: "< 25 %, < 25 % of a block's time",
      measured: `${eight.worstShare.toFixed(1)} %, ${eight.setShare.toFixed(1)} %`,
      kept: eight.worstShare < 25 && eight.setShare < 25,
    },
    ...soundRows(cpuMilliseconds),
    ...renderRows(inParts(1, 500, 32), inParts(8, 500, 32)),
    firstLoadRow("shelf", "", 180),
    firstLoadRow("workspace", "beat/[id]/", 260),
  ];
}

const large = { ...beatOf(10_000, 16), id: "large" };
const wide = { ...inParts(8, 250), id: "wide" };
const long = { ...beatOf(2000, 64), id: "long" };
const huge = { ...beatOf(50_000, 64), id: "huge" };
const table = [...rows(), ...(await browserRows(beatOf(2000, 4), large, wide, long, huge))];
console.log("| what | budget | measured | |\n|---|---|---|---|");
for (const { what, budget, measured, kept } of table)
  console.log(`| ${what} | ${budget} | ${measured} | ${kept ? "kept" : "NOT KEPT"} |`);
console.log(
  "\nOnsets to the sample with the page blocked, and from a key to its sound, are measured by the browser tests.",
);
printKits();
