import fc from "fast-check";
import type { Hit } from "@/core/beat/beat";
import { findPart } from "@/core/beat/edit";
import { readBeatFile, writeBeatFile } from "@/core/formats/beat-file";
import { seededRandom } from "@/core/random";
import { RECORD_MODES } from "@/core/record/record-stroke";
import { BEAT_MS, LAP_MS, session, takeTestTime } from "../../../tests/support/session";
import { strike } from "../../../tests/support/open-workspace";
import type { Workspace } from "./workspace";

takeTestTime();

const openHits = ({ beat, state }: Workspace) =>
  findPart(beat, state.patternRef.partId).patterns.flatMap(({ passes }) => passes.flatMap(({ hits }) => hits));

function keysSession(...settings: Parameters<typeof session>) {
  const made = session(...settings);
  made.workspace.parts.addVoice("cabin");
  /** Holds a key of the computer for so long. */
  const hold = (key: number, ms: number, untilMs: number) => {
    made.goTo(ms);
    const lanes = made.workspace.lanesAt(key);
    for (const lane of lanes) made.workspace.strike({ lane, velocity: 100, timeMs: ms, device: "keys" });
    made.goTo(untilMs);
    for (const lane of lanes) made.workspace.release({ lane, timeMs: untilMs, device: "keys" });
  };
  return { ...made, hold };
}

test("low hand on one lap, high hand on the next: notes as long as they were held, also over the loop's end and out of record", () => {
  const { workspace, engine, hold, goTo } = keysSession();
  workspace.transport.toggleRecord();
  hold(0, 0, BEAT_MS);
  hold(7, 3 * BEAT_MS, 5 * BEAT_MS);
  hold(4, LAP_MS + 7 * BEAT_MS, LAP_MS + 9 * BEAT_MS);
  goTo(2 * LAP_MS + 6 * BEAT_MS);
  const lanes = workspace.lanesAt(2);
  for (const lane of lanes) strike(workspace, lane, 2 * LAP_MS + 6 * BEAT_MS);
  workspace.transport.toggleRecord();
  goTo(2 * LAP_MS + 7 * BEAT_MS);
  for (const lane of lanes) workspace.release({ lane, timeMs: 2 * LAP_MS + 7 * BEAT_MS, device: "keys" });
  const told = openHits(workspace).map(({ lane, played, lengthTicks }) => [
    lane,
    Math.round(played.ticks),
    Math.round(lengthTicks),
  ]);
  expect(told).toEqual([
    [60, 0, 960],
    [67, 2880, 1920],
    [64, 6720, 1920],
    [62, 5760, 960],
  ]);
  // Every press and every end reached the audio thread, in the part that was open.
  const { partId } = workspace.state.patternRef;
  const ends = engine.orders.filter((order) => order.type === "let-go" && order.partId === partId);
  expect(ends).toHaveLength(4);
  expect(readBeatFile(writeBeatFile(workspace.beat))).toEqual(workspace.beat);
  workspace.document.undo();
  expect(openHits(workspace)).toHaveLength(3);
});

test("a key that goes down in one part goes up in it, whichever part is open by then", () => {
  const { workspace, engine, goTo } = keysSession();
  const { partId } = workspace.state.patternRef;
  workspace.transport.toggleRecord();
  goTo(100);
  strike(workspace, 60, 100);
  workspace.parts.openAt(0);
  goTo(BEAT_MS);
  workspace.release({ lane: 60, timeMs: BEAT_MS, device: "keys" });
  expect(engine.last("let-go")).toMatchObject({ partId, lane: 60 });
  workspace.parts.openAt(1);
  expect(openHits(workspace).map(({ lengthTicks }) => Math.round(lengthTicks))).toEqual([768]);
});

test("chords, octaves and scales: a key plays what is printed on it, and a pad that lies nowhere plays nothing", () => {
  const { workspace, hold } = keysSession();
  const { partId } = workspace.state.patternRef;
  workspace.parts.setScale(partId, { name: "dorian" });
  workspace.parts.setScale(partId, { chords: "sevenths" });
  workspace.parts.setScale(partId, { root: 2 });
  expect(findPart(workspace.beat, partId)).toMatchObject({ scale: { root: 2, name: "dorian", chords: "sevenths" } });
  expect(workspace.lanesAt(0)).toEqual([62, 65, 69, 72]);
  workspace.parts.shiftOctave(-1);
  expect(workspace.lanesAt(0)).toEqual([50, 53, 57, 60]);
  for (let press = 0; press < 9; press++) workspace.parts.shiftOctave(-1);
  expect(workspace.state.octaves[partId]).toBe(-3);
  workspace.transport.toggleRecord();
  hold(0, 0, BEAT_MS);
  expect(new Set(openHits(workspace).map(({ lane }) => lane))).toEqual(new Set([26, 29, 33, 36]));
  expect(workspace.state.history.past.at(-1)?.label).toBe("lap 1, 4 notes");
  workspace.parts.openAt(0);
  workspace.parts.shiftOctave(1);
  expect(workspace.state.octaves[workspace.state.patternRef.partId]).toBeUndefined();
});

test("erase with two keys takes all notes between, and their sound is off; repeated notes are as long as their step", () => {
  const { workspace, engine, goTo } = keysSession();
  const { partId } = workspace.state.patternRef;
  workspace.transport.toggleRecord();
  workspace.repeat.holdRate("1/8", true);
  goTo(10);
  strike(workspace, 60, 10);
  goTo(LAP_MS - 100);
  workspace.release({ lane: 60, timeMs: LAP_MS - 100, device: "keys" });
  workspace.repeat.holdRate("1/8", false);
  expect(openHits(workspace).every(({ lengthTicks }) => lengthTicks === 480)).toBe(true);
  for (const [at, lane] of [64, 67, 72].entries()) {
    goTo(LAP_MS + at * 10);
    strike(workspace, lane, LAP_MS + at * 10);
    workspace.release({ lane, timeMs: LAP_MS + at * 10 + 5, device: "keys" });
  }
  goTo(2 * LAP_MS - 50);
  const before = openHits(workspace).length;
  workspace.command("erase", true, 2 * LAP_MS - 50);
  for (const lane of [67, 60]) strike(workspace, lane, 2 * LAP_MS - 50);
  expect([...engine.last("silence").lanes].sort((a, b) => a - b)).toEqual([60, 61, 62, 63, 64, 65, 66, 67]);
  goTo(3 * LAP_MS - 100);
  for (const lane of [67, 60]) workspace.release({ lane, timeMs: 3 * LAP_MS - 100, device: "keys" });
  workspace.command("erase", false, 3 * LAP_MS - 100);
  expect(engine.last("silence")).toMatchObject({ partId, lanes: [] });
  expect(before).toBeGreaterThan(10);
  expect(openHits(workspace).map(({ lane }) => lane)).toEqual([72]);
});

type Told = readonly [lane: number, ticks: number, velocity: number, masked: boolean];

/** What becomes of the same hands in a kit and on keys: everything but how long a note is. */
function played(kind: "kit" | "tonal", seed: number): readonly (readonly Told[])[] {
  const made = session({ countInBars: 0 });
  const { workspace, goTo } = made;
  if (kind === "tonal") workspace.parts.addVoice("keel");
  else workspace.parts.addKit();
  const first = kind === "tonal" ? 36 : 0;
  const random = seededRandom(seed);
  const any = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!;
  workspace.transport.setMode(any(RECORD_MODES));
  workspace.transport.toggleRecord();
  let at = 0;
  const moves = [
    () => strike(workspace, first + Math.floor(random() * 2), at),
    () => strike(workspace, first + Math.floor(random() * 2), at),
    () => strike(workspace, first + Math.floor(random() * 2), at),
    () => workspace.release({ lane: first + Math.floor(random() * 2), timeMs: at, device: "keys" }),
    () => workspace.command("erase", random() < 0.5, at),
    () => workspace.command("repeat 1/8", random() < 0.4, at),
    () => workspace.timing.setQuantize({ grid: any(["1/8", "1/16", "1/8T", "off"] as const) }),
    () => workspace.transport.setMode(any(RECORD_MODES)),
    // The part itself stays.
    () => void (workspace.state.history.past.at(-1)?.label !== "Add a part" && workspace.document.undo()),
    () => workspace.transport.togglePractice(),
  ];
  for (let step = 0; step < 40; step++) {
    at += 20 + Math.floor(random() * 400);
    goTo(at);
    any(moves)();
  }
  workspace.command("erase", false, at);
  workspace.command("repeat 1/8", false, at);
  workspace.transport.stop();
  goTo(at + 3000);
  void workspace.recall.takeAtOnce();
  const told = ({ lane, played: { ticks, velocity }, masked }: Hit): Told => [
    lane - first,
    Math.round(ticks * 1000) / 1000,
    velocity,
    masked ?? false,
  ];
  const { partId } = workspace.state.patternRef;
  return findPart(workspace.beat, partId).patterns.flatMap(({ passes }) => passes.map(({ hits }) => hits.map(told)));
}

test("recording, correcting, covering, erasing, replacing, takes, repeats, undo and echoes are the same on notes as on pads", () =>
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 1e9 }), (seed) => {
      // Two neighbours: of notes erase takes all between those that are held.
      expect(played("tonal", seed)).toEqual(played("kit", seed));
    }),
    { numRuns: 12 },
  ));
