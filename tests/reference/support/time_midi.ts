/** Reads MIDI files in every way there is, outside of a test's sandbox, and prints the processor time of each in ms. */
import { readFileSync } from "node:fs";
import { midiStrokes } from "../../../src/core/formats/midi/midi-strokes";
import { midiToBeat } from "../../../src/core/formats/midi/midi-to-beat";
import { retimeMidi } from "../../../src/core/formats/midi/retime-midi";

const swing = { ratio: 0.6, unit: "1/16" } as const;
/** Each with the milliseconds a megabyte that are soon enough: a little less than the most that is allowed. */
const ways: readonly [number, (bytes: Uint8Array) => unknown][] = [
  [900, (bytes) => midiToBeat(bytes, "big", "Big")],
  [900, midiStrokes],
  [2700, (bytes) => retimeMidi(bytes, { grid: "1/16", strength: 1, reach: 1 }, { swing })],
];

/** Of several runs the least: a busy machine only ever adds. What is done soon enough need not be done again. */
function leastMilliseconds(work: () => unknown, enoughMs: number): number {
  let least = Infinity;
  for (let segment = 0; segment < 3 && least > enoughMs; segment++) least = Math.min(least, millisecondsOf(work));
  return least;
}

function millisecondsOf(work: () => unknown): number {
  const start = process.cpuUsage();
  try {
    work();
  } catch {
    // Refused; what counts is how soon.
  }
  const { user, system } = process.cpuUsage(start);
  return (user + system) / 1000;
}

for (const path of process.argv.slice(2)) {
  const bytes = new Uint8Array(readFileSync(path));
  const megabytes = Math.max(1, bytes.length / 2 ** 20);
  console.log(JSON.stringify(ways.map(([enoughMs, way]) => leastMilliseconds(() => way(bytes), enoughMs * megabytes))));
}
