import { newBeat } from "../../beat/new-beat";
import { addTonalPart } from "../../beat/edits/part-edit";
import type { Bpm } from "../../time/tempo";
import { parseLength, parseOffset, parsePlace, parseVelocity } from "./typed-entry";
import { parseLane } from "./typed-lane";

const frame = { meter: { beats: 4, unit: 4 }, bpm: 100 as Bpm, bars: 2 } as const;

// At 100 BPM 10 ms are 16 ticks.
test.each([
  ["1", "at", 0],
  ["2", "at", 3840],
  ["2.3", "at", 5760],
  ["2.3.480", "at", 6240],
  [" 2 . 3 . 480 ", "at", 6240],
  ["2:3:480", "at", 6240],
  ["2,3,480", "at", 6240],
  ["2 3 480", "at", 6240],
  ["1.1.000", "at", 0],
  ["1.1.0.5", "at", 0.5],
  ["2.3+10ms", "at", 5776],
  ["2.1 - 1/16", "at", 3600],
  ["+10ms", "heardBy", 16],
  ["-10 ms", "heardBy", -16],
  ["+2,5ms", "heardBy", 4],
  ["+5t", "heardBy", 5],
  ["-1 tick", "heardBy", -1],
  ["-1/16", "straightBy", -240],
  ["+1/8T", "straightBy", 320],
  ["+1/8d", "straightBy", 720],
  ["+ 3 x 1/16", "straightBy", 720],
  ["-1b", "straightBy", -960],
  ["+2 beats", "straightBy", 1920],
] as const)("the place %p", (typed, kind, ticks) => {
  const place = parsePlace(typed, frame);
  expect(place.kind).toBe(kind);
  expect(place.ticks).toBeCloseTo(ticks, 9);
});

test.each([
  ["", "is no place"],
  ["x", "is no place"],
  ["2.3.480.5.1", "is no place"],
  ["0", "bars 1 to 2"],
  ["3", "bars 1 to 2"],
  ["2.5", "beats 1 to 4"],
  ["2.0", "beats 1 to 4"],
  ["1.1.960", "ticks 0 to 959"],
  ["+10", "is no distance"],
  ["+1/7", "is no distance"],
  ["-9b", "more than the whole loop"],
  ["+", "is no place"],
] as const)("the place %p is refused: %p", (typed, description) => {
  expect(() => parsePlace(typed, frame)).toThrow(description);
});

test.each([
  ["1/16", 240],
  ["1/8T", 320],
  ["240", 240],
  ["2x1/4", 1920],
  ["1b", 960],
  ["100ms", 160],
  ["+1/32", 180],
  ["-10ms", 44],
  ["60t", 60],
] as const)("the length %p of a hit that is 60 ticks long", (typed, ticks) => {
  expect(parseLength(typed, 60, frame)).toBeCloseTo(ticks, 9);
});

test.each([
  ["", "is no length"],
  ["0", "longer than nothing"],
  ["-60", "longer than nothing"],
  ["long", "is no length"],
] as const)("the length %p is refused: %p", (typed, description) => {
  expect(() => parseLength(typed, 60, frame)).toThrow(description);
});

test.each([
  ["72", 72],
  ["+10", 110],
  ["-10", 90],
  ["80%", 80],
  ["+10%", 110],
] as const)("the velocity %p of a hit that has 100", (typed, velocity) => {
  expect(parseVelocity(typed, 100)).toBe(velocity);
});

test.each([
  ["0", "1 to 127"],
  ["128", "1 to 127"],
  ["+30", "makes 130"],
  ["loud", "is no velocity"],
] as const)("the velocity %p is refused: %p", (typed, description) => {
  expect(() => parseVelocity(typed, 100)).toThrow(description);
});

test.each([
  ["12", 12],
  ["-8", -8],
  ["+12ms", 12],
  ["8 early", -8],
  ["3.5 ms late", 3.5],
] as const)("the offset %p", (typed, ms) => expect(parseOffset(typed)).toBe(ms));

test.each(["", "-8 early", "soon"])("the offset %p is refused", (typed) => {
  expect(() => parseOffset(typed)).toThrow("is no time");
});

test("lanes by their names, notes by name or number", () => {
  const { beat } = addTonalPart(newBeat({ id: "t", name: "T" }), "keel");
  const [kit, keel] = [beat.parts[0]!, beat.parts[1]!];
  const kick = kit.kind === "kit" ? kit.pads.find(({ name }) => name === "Kick")!.id : -1;
  expect(parseLane("kick", kit)).toBe(kick);
  expect(parseLane("KI", kit)).toBe(kick);
  expect(() => parseLane("c", kit)).toThrow("Clap or");
  expect(() => parseLane("gong", kit)).toThrow("no pad");
  // MIDI note 69 is A4 (ISO 16; MIDI 1.0 as commonly counted, from memory).
  expect(["A4", "69", "c#3", "Db3", "B♭-1"].map((name) => parseLane(name, keel))).toEqual([69, 69, 49, 49, 10]);
  expect(() => parseLane("H2", keel)).toThrow("no note");
});
