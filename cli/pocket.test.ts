import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buildSync } from "esbuild";
import { unzipSync } from "fflate";
import { demoBeat } from "@/core/demo/demo-beats";
import { readSmf } from "@/core/formats/midi/smf-read";
import { eighthsAndBass } from "../tests/support/eighths";
import { readBeatFile, writeBeatFile } from "@/core/formats/beat-file";

const folder = mkdtempSync(join(tmpdir(), "pocket-cli-"));
const file = (name: string) => join(folder, name);
// Bundled once: twenty starts of a compiler would take longer than all the rest.
buildSync({
  entryPoints: ["cli/pocket.ts"],
  bundle: true,
  platform: "node",
  format: "cjs",
  outfile: file("pocket.cjs"),
});
const pocket = (...args: string[]) => spawnSync("node", [file("pocket.cjs"), ...args], { encoding: "utf8" });

test("a demo beat goes to MIDI, back to a beat, and is sound", () => {
  expect(pocket("demo", "lantern room", file("beat.json")).status).toBe(0);
  expect(pocket("midi", file("beat.json"), file("beat.mid")).status).toBe(0);
  expect(pocket("from-midi", file("beat.mid"), file("again.json")).status).toBe(0);
  expect(pocket("check", file("again.json")).stdout).toContain('"beat", 104 BPM, 4/4, 3 patterns, 41 hits');
  expect(pocket("from-midi", file("beat.mid"), file("drums.json"), "--drums-only").stdout).toContain(
    "left out: Channel",
  );
  expect(pocket("check", file("drums.json")).stdout).toContain('"beat", 104 BPM, 4/4, 1 patterns, 25 hits');
  const again = readBeatFile(readFileSync(file("again.json"), "utf8"));
  expect(again.bpm).toBeCloseTo(104, 3);
});

test("a beat is taken apart, a WAV a part, or a pad", () => {
  writeFileSync(file("two.json"), writeBeatFile(eighthsAndBass()));
  const namesOf = (...options: readonly string[]) => {
    expect(pocket("stems", file("two.json"), file("stems.zip"), ...options).stderr).toBe("");
    return Object.keys(unzipSync(readFileSync(file("stems.zip"))));
  };
  expect(namesOf()).toEqual(["Kit.wav", "Winch.wav"]);
  expect(namesOf("--size", "pad", "--bits", "16", "--rate", "44100", "--loop")).toEqual([
    "Kit Side stick.wav",
    "Winch.wav",
  ]);
});

test("a demo beat with a sample is a ZIP file, which is checked and rendered like any other", () => {
  expect(pocket("demo", "slow harbour", file("harbour.zip")).status).toBe(0);
  expect(Object.keys(unzipSync(readFileSync(file("harbour.zip"))))).toContain("beat.json");
  expect(pocket("check", file("harbour.zip")).stdout).toContain('"Slow Harbour", 76 BPM');
  expect(pocket("render", file("harbour.zip"), file("harbour.wav"), "--part", "Kit").stderr).toBe("");
  // Without its samples it says what is missing.
  writeFileSync(file("bare.json"), unzipSync(readFileSync(file("harbour.zip")))["beat.json"]!);
  expect(pocket("render", file("bare.json"), file("bare.wav")).stderr).toMatch(
    /^pocket: The sample [0-9a-f]{32} is not there/,
  );
});

test("drums of a MIDI file are corrected and swung, a groove goes from one file to another, a grid is advised", () => {
  const ticksOf = (name: string) =>
    readSmf(readFileSync(file(name))).notes.flatMap(({ tick, channel }) => (channel === 9 ? [tick] : []));
  expect(pocket("timing", file("beat.mid"), file("straight.mid"), "--grid", "1/16").status).toBe(0);
  expect(ticksOf("straight.mid").every((tick) => tick % 240 === 0)).toBe(true);
  expect(pocket("timing", file("straight.mid"), file("swung.mid"), "--swing", "60", "--swing-unit", "1/8").status).toBe(
    0,
  );
  const warped = ticksOf("straight.mid").map((tick) => {
    const inPair = tick % 960;
    return tick - inPair + (inPair <= 480 ? inPair * 1.2 : 576 + (inPair - 480) * 0.8);
  });
  expect(ticksOf("swung.mid")).toEqual(warped.sort((a, b) => a - b));
  const made = pocket("groove", file("swung.mid"), file("groove.json"), "--grid", "1/8");
  expect(made.stdout).toMatch(/^25 hits on \d of 8 lines; it stands for \d+ % of them$/m);
  const flat = ["--strength", "0", "--groove", file("groove.json"), "--velocity", "0"];
  expect(pocket("timing", file("straight.mid"), file("again.mid"), ...flat).status).toBe(0);
  expect(ticksOf("again.mid")).toHaveLength(25);
  const eighths = ["--grid", "1/8", "--swing", "60", "--swing-unit", "1/8"];
  expect(pocket("timing", file("beat.mid"), file("eighths.mid"), ...eighths).status).toBe(0);
  const { grid, family, swingPercent } = JSON.parse(pocket("advise", file("eighths.mid")).stdout);
  expect({ grid, family, swung: Math.abs(swingPercent - 60) < 6 }).toEqual({
    grid: "1/8",
    family: "swung",
    swung: true,
  });
});

test("echoes are read: tempo, downbeat, length, as JSON and in the order they came", () => {
  const backbeat = (start: number, bpm: number) =>
    Array.from({ length: 32 }, (_, eighth) => [
      { time: start + (eighth * 30) / bpm, note: 42, velocity: 80 },
      ...(eighth % 4 === 0 ? [{ time: start + (eighth * 30) / bpm, note: 36, velocity: 100 }] : []),
      ...(eighth % 4 === 2 ? [{ time: start + (eighth * 30) / bpm, note: 38, velocity: 105 }] : []),
    ]).flat();
  const cases = [
    { id: "a", hits: backbeat(3, 100), meter: [4, 4] },
    { id: "b", hits: backbeat(9, 126), truth: "is passed over" },
    { id: "c", hits: [] },
  ];
  writeFileSync(file("echoes.json"), JSON.stringify(cases));
  const answers = JSON.parse(pocket("recover", file("echoes.json")).stdout);
  expect(answers.map(({ id }: { id: string }) => id)).toEqual(["a", "b", "c"]);
  expect(answers[0].candidates[0]).toMatchObject({ bars: 4, meter: [4, 4] });
  expect(answers[0].candidates[0].bpm).toBeCloseTo(100, 0);
  expect(answers[0].candidates[0].downbeat).toBeCloseTo(3, 1);
  expect(answers[1].candidates[0].bpm).toBeCloseTo(126, 0);
  expect(answers[2].candidates).toEqual([]);
  expect(typeof answers[0].ms).toBe("number");
});

test("laps of a loop are folded: merged, the last, one, as takes, one after the other; early strokes are the downbeat", () => {
  const at = (beat: number, note: number, velocity: number) => ({ time: 10 + beat / 2, note, velocity });
  // One bar at 120 BPM: the kick a little late, in time and early on the downbeat, a snare in the first lap alone.
  const hits = [at(0.01, 36, 90), at(1, 38, 100), at(4, 36, 100), at(7.99, 36, 110)];
  writeFileSync(file("laps.json"), JSON.stringify([{ id: 7, bpm: 120, bars: 1, start: 10, hits }]));
  const folded = (...args: string[]) => {
    const [{ id, bars, passes }] = JSON.parse(pocket("fold", file("laps.json"), ...args).stdout);
    expect(id).toBe("7");
    const lines = passes.map((pass: { hits: { tick: number; note: number; velocity: number }[] }) =>
      pass.hits.map(({ tick, note, velocity }) => `${tick.toFixed(1)} ${note} ${velocity}`).join(", "),
    );
    return [bars, ...lines];
  };
  expect(folded()).toEqual([1, "0.0 36 100, 960.0 38 100"]);
  expect(folded("--laps", "last")).toEqual([1, "-9.6 36 110"]);
  expect(folded("--laps", "one", "--lap", "1")).toEqual([1, "9.6 36 90, 960.0 38 100"]);
  expect(folded("--laps", "takes")).toEqual([1, "9.6 36 90, 960.0 38 100", "0.0 36 100", "-9.6 36 110"]);
  expect(folded("--laps", "unrolled")).toEqual([3, "9.6 36 90, 960.0 38 100, 3840.0 36 100, 7670.4 36 110"]);
});

writeFileSync(
  file("bad-laps.json"),
  JSON.stringify([{ id: "a", bpm: 500, hits: [{ time: 1, note: 36, velocity: 9 }] }]),
);
writeFileSync(file("bad-echoes.json"), JSON.stringify([{ id: "a", hits: [{ time: 1, note: 36, velocity: 0 }] }]));
writeFileSync(
  file("years.json"),
  JSON.stringify([{ id: "a", hits: [0, 1, 1e8].map((time) => ({ time, note: 36, velocity: 90 })) }]),
);
writeFileSync(file("cut.json"), writeBeatFile(demoBeat("Tide Table")).slice(0, 900));
writeFileSync(file("noise.mid"), "no music");
writeFileSync(file("good.json"), writeBeatFile(demoBeat("Tide Table")));
test.each([
  ["a verb that is none", ["sing"], /There is no verb "sing"/],
  ["a name too few", ["check"], /takes 1 names, got 0/],
  ["an option that is none", ["check", file("good.json"), "--loud"], /--loud/],
  ["a demo beat that is none", ["demo", "Nobody", file("x.json")], /There is no demo beat "Nobody"/],
  ["a file that is not there", ["check", file("gone.json")], /There is no ".*gone\.json"/],
  ["a folder", ["check", folder], /is a folder; a file is wanted/],
  ["a cut beat file", ["check", file("cut.json")], /This is no beat file/],
  ["a broken MIDI file", ["from-midi", file("noise.mid"), file("x.json")], /does not begin with a MIDI header/],
  ["a grid that is none", ["timing", file("beat.mid"), file("x.mid"), "--grid", "1/5"], /--grid must be one of 1\/2/],
  ["too much swing", ["timing", file("beat.mid"), file("x.mid"), "--swing", "80"], /--swing must be 50 to 75 per cent/],
  [
    "a groove that is none",
    ["timing", file("beat.mid"), file("x.mid"), "--groove", file("good.json")],
    /groove file can't be read/,
  ],
  ["three bars", ["groove", file("beat.mid"), file("x.json"), "--bars", "3"], /--bars must be one of 1, 2/],
  [
    "echoes without velocity",
    ["recover", file("bad-echoes.json")],
    /\/0\/hits\/0\/velocity must be a whole number from 1 to 127/,
  ],
  ["strokes years apart", ["recover", file("years.json")], /\/0\/hits must lie within 60 minutes/],
  ["laps at a tempo that is none", ["fold", file("bad-laps.json")], /\/0\/bpm must be a number from 20 to 400/],
  ["lap nought", ["fold", file("bad-laps.json"), "--lap", "0"], /--lap must be 1 or more/],
  ["17 bits", ["render", file("good.json"), file("x.wav"), "--bits", "17"], /16, 24 or 32 bits, not 17/],
  ["a strange rate", ["render", file("good.json"), file("x.wav"), "--rate", "1"], /sample rate must be one of/],
  ["stems of bars", ["stems", file("good.json"), file("x.zip"), "--size", "bar"], /--size must be one of part, pad/],
])("%s ends with status 1 and one plain line", (_, args, message) => {
  const { status, stderr, stdout } = pocket(...args);
  expect(status).toBe(1);
  expect(stdout).toBe("");
  expect(stderr.trim().split("\n")).toHaveLength(1);
  expect(stderr).toMatch(message);
  expect(stderr).not.toMatch(/\bat .*:\d+:\d+/);
});
