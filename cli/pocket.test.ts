import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { demoBeat } from "@/core/demo/demo-beats";
import { readBeatFile, writeBeatFile } from "@/core/formats/beat-file";

const folder = mkdtempSync(join(tmpdir(), "pocket-cli-"));
const file = (name: string) => join(folder, name);
const pocket = (...args: string[]) =>
  spawnSync("node_modules/.bin/tsx", ["cli/pocket.ts", ...args], { encoding: "utf8" });

test("a demo beat goes to MIDI, back to a beat, and is sound", () => {
  expect(pocket("demo", "lantern room", file("beat.json")).status).toBe(0);
  expect(pocket("midi", file("beat.json"), file("beat.mid")).status).toBe(0);
  expect(pocket("from-midi", file("beat.mid"), file("again.json")).status).toBe(0);
  expect(pocket("check", file("again.json")).stdout).toContain('"beat", 104 BPM, 4/4, 1 patterns, 25 hits');
  const again = readBeatFile(readFileSync(file("again.json"), "utf8"));
  expect(again.bpm).toBeCloseTo(104, 3);
});

writeFileSync(file("cut.json"), writeBeatFile(demoBeat("Tide Table")).slice(0, 900));
writeFileSync(file("noise.mid"), "no music");
writeFileSync(file("good.json"), writeBeatFile(demoBeat("Tide Table")));
test.each([
  ["a verb that is none", ["sing"], /There is no verb "sing"/],
  ["a name too few", ["check"], /takes 1 names, got 0/],
  ["an option that is none", ["check", file("good.json"), "--loud"], /--loud/],
  ["a demo beat that is none", ["demo", "Nobody", file("x.json")], /There is no demo beat "Nobody"/],
  ["a file that is not there", ["check", file("gone.json")], /no such file/],
  ["a cut beat file", ["check", file("cut.json")], /This is no beat file/],
  ["a broken MIDI file", ["from-midi", file("noise.mid"), file("x.json")], /does not begin with a MIDI header/],
  ["17 bits", ["render", file("good.json"), file("x.wav"), "--bits", "17"], /16, 24 or 32 bits, not 17/],
  ["a strange rate", ["render", file("good.json"), file("x.wav"), "--rate", "1"], /sample rate must be one of/],
])("%s ends with status 1 and one plain line", (_, args, message) => {
  const { status, stderr, stdout } = pocket(...args);
  expect(status).toBe(1);
  expect(stdout).toBe("");
  expect(stderr.trim().split("\n")).toHaveLength(1);
  expect(stderr).toMatch(message);
  expect(stderr).not.toMatch(/\bat .*:\d+:\d+/);
});
