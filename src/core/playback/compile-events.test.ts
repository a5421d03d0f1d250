import { impulse, RATE } from "../../../tests/support/player-probe";
import { addHits, addPass, findPattern, setFeel, setPad, setPass, type NewHit } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import type { Beat, QuantizeSettings } from "../beat/beat";
import type { Ticks } from "../time/ticks";
import { beatToWav, parseSampleRate } from "./beat-to-wav";
import { compileEvents } from "./compile-events";
import { partMix } from "./part-mix";

const [KICK, SNARE] = [0, 1];
const SIXTEENTHS = { grid: "1/16", strength: 1, reach: 1 } as const;
const empty = newBeat({ id: "b", name: "B", bpm: 120 });
const patternRef = firstPlace(empty);

type Played = readonly [pad: number, ticks: number, velocity: number, more?: Partial<NewHit>];

function withPass(beat: Beat, quantize: QuantizeSettings, ...played: readonly Played[]): Beat {
  const added = addPass(beat, patternRef, { name: "P", muted: false, quantize });
  const hits = played.map(([pad, ticks, velocity, more]) => ({
    lane: pad,
    played: { ticks: ticks as Ticks, velocity },
    lengthTicks: 60 as Ticks,
    ...more,
  }));
  return addHits(added.beat, patternRef, added.passId, hits);
}

const idsOf = (beat: Beat) => findPattern(beat, patternRef).passes.flatMap(({ hits }) => hits.map(({ id }) => id));

test("a table has what is heard, by id: places, pads, drums, levels, variants in turn as they sound, cut lengths", () => {
  const beat = withPass(
    empty,
    SIXTEENTHS,
    [SNARE, 2870, 70],
    [SNARE, 20, 60],
    // The louder one on that line covers it.
    [SNARE, -15, 90],
    [KICK, 1910, 80, { choked: true, lengthTicks: 300 as Ticks }],
    [SNARE, 960, 50],
    [SNARE, 4800, 40],
  );
  const ids = idsOf(beat);
  const table = compileEvents(beat, patternRef);
  expect([...table.ids]).toEqual([ids[0], ids[2], ids[3], ids[4], ids[5]]);
  expect([...table.ticks]).toEqual([2880, 0, 1920, 960, 4800]);
  expect([...table.order]).toEqual([1, 3, 2, 0, 4]);
  expect([...table.lanes]).toEqual([SNARE, SNARE, KICK, SNARE, SNARE]);
  expect([...table.velocities]).toEqual([70, 90, 80, 50, 40]);
  expect([...table.variants]).toEqual([2, 0, 0, 1, 0]);
  expect([...table.lengthTicks]).toEqual([60, 60, 300, 60, 60]);
  expect([...table.choked]).toEqual([0, 0, 1, 0, 0]);
  expect([...table.fromLaps]).toEqual([0, 0, 0, 0, 0]);
  expect([...table.leads]).toEqual([0, 0, 0, 0, 0]);
  expect(table).toMatchObject({ patternId: patternRef.patternId, bpm: 120, segment: -1 });
  expect(table.span).toEqual({ startTicks: 0, lengthTicks: 7680 });
});

test("only what leads into a bar is marked: ahead of its line, whatever bar it is, and not ahead of other lines", () => {
  const straight = { grid: "off", strength: 1, reach: 1 } as const;
  const pushed = setFeel(empty, patternRef, {
    groove: {
      groove: {
        name: "Push",
        description: "",
        grid: "1/8",
        bars: 1,
        barTicks: 3840 as Ticks,
        lines: Array.from({ length: 8 }, (_, line) => ({ offsetTicks: line < 2 ? -30 : 0, velocity: 1 })),
      },
      timing: 1,
      velocity: 0,
    },
  });
  const beat = withPass(
    withPass(pushed, SIXTEENTHS, [KICK, 0, 90], [KICK, 480, 90], [KICK, 3840, 90], [KICK, 1920, 90]),
    straight,
    [SNARE, -70, 90],
  );
  const { ticks, leads } = compileEvents(beat, patternRef);
  expect([...ticks].map(Math.round)).toEqual([-30, 450, 3810, 1920, -96]);
  expect([...leads]).toEqual([1, 0, 1, 0, 1]);
});

test("silenced pads are in the table, the pass that is being recorded is marked; what was struck in this run waits for its lap", () => {
  const two = withPass(withPass(empty, SIXTEENTHS, [SNARE, 0, 90], [KICK, 0, 90]), SIXTEENTHS, [SNARE, 960, 90]);
  const muted = setPad(two, patternRef.partId, SNARE, { muted: true });
  const [snare, kick, fresh] = idsOf(muted);
  expect([...compileEvents(muted, patternRef).ids]).toEqual([snare, kick, fresh]);
  expect([...compileEvents(muted, patternRef).always]).toEqual([0, 0, 0]);
  const { muted: silenced } = partMix(muted, muted.parts[0]!);
  expect([silenced[SNARE], silenced[KICK]]).toEqual([1, 0]);
  const soloed = setPad(muted, patternRef.partId, SNARE, { soloed: true });
  expect([...partMix(soloed, soloed.parts[0]!).muted.slice(0, 2)]).toEqual([1, 0]);
  const passId = findPattern(muted, patternRef).passes[1]!.id;
  const soundsFrom = new Map([
    [kick!, { segment: 6, lap: 9 }],
    [fresh!, { segment: 7, lap: 3 }],
  ]);
  const table = compileEvents(muted, patternRef, { recordingPassId: passId, fresh: { segment: 7, soundsFrom } });
  expect([...table.ids]).toEqual([snare, kick, fresh]);
  expect([...table.always]).toEqual([0, 0, 1]);
  expect([...table.fromLaps]).toEqual([0, 0, 3]);
  expect(table.segment).toBe(7);
  expect([...compileEvents(setPass(two, patternRef, passId, { muted: true }), patternRef).ids]).toHaveLength(2);
});

test("the table's warps are those that are listened to: of the pattern, of a pad that takes a share; none but grooved", () => {
  const swung = setFeel(withPass(empty, SIXTEENTHS, [KICK, 240, 90], [SNARE, 240, 90]), patternRef, {
    swing: { ratio: 2 / 3, unit: "1/16" },
    padAmounts: { [SNARE]: 0.5 },
  });
  const grooved = compileEvents(swung, patternRef);
  expect([...grooved.ticks]).toEqual([320, 280]);
  expect(grooved.warp).toBeDefined();
  expect([...grooved.padWarps.keys()]).toEqual([SNARE]);
  expect(grooved.padWarps.get(SNARE)).toBeDefined();
  const corrected = compileEvents(swung, patternRef, { timingView: "corrected" });
  expect([...corrected.ticks]).toEqual([240, 240]);
  expect([corrected.warp, corrected.padWarps.size]).toEqual([undefined, 0]);
});

test("a WAV has a lap of frames, with its tail more; a longer one than is allowed is refused, and so is an odd rate", () => {
  const beat = withPass(empty, SIXTEENTHS, [KICK, 0, 127]);
  const options = { sampleRate: RATE, bits: 16, mode: "loop" } as const;
  const HEADER_BYTES = 44;
  const framesOf = (bytes: Uint8Array) => new DataView(bytes.buffer).getUint32(40, true) / 4;
  const wav = beatToWav(beat, [patternRef], options, impulse, 4 * RATE);
  expect(wav.subarray(0, 4)).toEqual(new TextEncoder().encode("RIFF"));
  expect(wav.length).toBeGreaterThan(HEADER_BYTES + 4 * 4 * RATE - 1);
  expect(framesOf(wav)).toBe(4 * RATE);
  const made = jest.fn(() => impulse);
  const tail = beatToWav(beat, [patternRef], { ...options, mode: "tail" }, made);
  expect(made).toHaveBeenCalledTimes(1);
  expect(tail.length).not.toBe(wav.length);
  expect(() => beatToWav(beat, [patternRef], options, impulse, 4 * RATE - 1)).toThrow(
    "This pattern lasts 4 s; 3 s at this",
  );
  expect(parseSampleRate("96000")).toBe(96000);
  expect(() => parseSampleRate("48001")).toThrow("must be one of 44100, 48000, 88200, 96000, not 48001");
});
