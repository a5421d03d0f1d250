import fc from "fast-check";
import { bankOf, framesHeard, PART, RATE, running, tableOf, withSounds } from "../../../../tests/support/player-probe";
import { seededRandom } from "../../random";
import { GRID_TICKS } from "../../time/grid";
import type { Ticks } from "../../time/ticks";
import type { TransportAnchor } from "../../time/transport-anchor";
import { swingWarp } from "../../timing/swing";
import { SILENT_CLICK } from "./click-track";
import { loudest } from "../signal/dsp";
import { fromDb } from "../signal/gain";
import type { RepeatedNote } from "./note-repeater";
import { Player, startTicks } from "./player";
import type { QueuedChange } from "./track";

describe("player", () => {
  // 120 BPM at 48 kHz: 25 frames a tick, 96,000 a lap.
  test("events fall on their computed frames, lap after lap, at tempi that do not divide", () =>
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 3839 }), { minLength: 1, maxLength: 12 }),
        fc.double({ min: 150, max: 400, noNaN: true }),
        (ticks, bpm) => {
          const framesPerTick = (60 * RATE) / (bpm * 960);
          const expected = [0, 1, 2]
            .flatMap((lap) => ticks.map((tick) => Math.round((lap * 3840 + tick) * framesPerTick)))
            .sort((a, b) => a - b);
          const end = Math.floor((3 * 3840 * framesPerTick) / 128) * 128;
          const heard = framesHeard(running(tableOf(ticks, { bpm })), end);
          expect(heard).toEqual([...new Set(expected.filter((frame) => frame < end))]);
        },
      ),
      { numRuns: 25 },
    ));

  test("a hit ahead of the downbeat sounds before the first one, too", () => {
    const table = tableOf([-40, 960]);
    expect(startTicks([table], 0)).toBe(-40);
    expect(startTicks([table], 2)).toBe(-7680);
    expect(startTicks([tableOf([-900])], 0)).toBe(-900);
    expect(framesHeard(running(table, -40), 100_000)).toEqual([0, 25_000, 96_000]);
  });

  test("a stroke sounds in the very next block, and a fresh hit only from its lap on", () => {
    const player = running(tableOf([960], { segment: 1, fromLaps: Int32Array.of(1) }));
    const heard = framesHeard(player, 130_000, (frame) => frame === 1280 && player.hit(PART, 0, 127));
    expect(heard).toEqual([1280, 120_000]);
  });

  test("500 changes of timing in mid-lap lose and double nothing", () => {
    const lines = [0, 480, 960, 1440, 1920, 2400, 2880, 3360];
    const random = seededRandom(500);
    // Every hit moves by up to 26 ms with every change, ahead of the playhead and behind it.
    const moved = () => tableOf(lines.map((line) => line + Math.round((random() - (line === 0 ? 0 : 0.5)) * 100)));
    const laps = 70;
    const player = running(tableOf(lines));
    let changes = 0;
    const heard = framesHeard(player, laps * 96_000 - 6016, () => {
      if (random() < 0.01) {
        changes++;
        player.setTables([moved()]);
      }
    });
    expect(changes).toBeGreaterThan(500);
    expect(heard).toHaveLength(laps * lines.length);
    heard.forEach((frame, index) => expect(Math.abs(frame - index * 12_000)).toBeLessThan(100 * 25 + 128));
  });

  test("what comes in just behind the playhead waits, whatever is changed next; what is moved there sounds late", () => {
    const at = (frame: number, changes: Readonly<Record<number, readonly number[]>>) =>
      changes[frame] && tableOf(changes[frame]);
    const heardWith = (changes: Readonly<Record<number, readonly number[]>>) => {
      const player = running(tableOf([0]));
      return framesHeard(player, 96_000 + 12_000, (frame) => {
        const table = at(frame, changes);
        if (table) player.setTables([table]);
      });
    };
    // 24,064 frames are 962.56 ticks; 900 is 32 ms behind, and comes in with a change that is followed by others.
    expect(heardWith({ 24_064: [0, 900], 24_192: [0, 901], 24_320: [0, 902] })).toEqual([0, 96_000]);
    // It was there before and is moved behind: it sounds with the next block.
    expect(heardWith({ 1280: [0, 1200], 24_064: [0, 900], 24_192: [0, 901] })).toEqual([0, 24_064, 96_000]);
    // Further behind than 120 ms it waits, too.
    expect(heardWith({ 1280: [0, 1200], 24_064: [0, 600] })).toEqual([0, 96_000]);
    // Two changes between two blocks.
    const twice = running(tableOf([0, 1200]));
    const heard = framesHeard(twice, 30_000, (frame) => {
      if (frame === 24_064)
        [
          [0, 900],
          [0, 910],
        ].forEach((ticks) => twice.setTables([tableOf(ticks)]));
    });
    expect(heard).toEqual([0, 24_064]);
  });

  test("a run that begins behind a hit does not make up for it with the first change", () => {
    const player = running(tableOf([900]), 950);
    expect(framesHeard(player, 24_000, (frame) => frame === 256 && player.setTables([tableOf([901])]))).toEqual([]);
  });

  test("a new tempo keeps the musical place, a new length keeps the place in the loop", () => {
    const player = running(tableOf([0, 1920]));
    const heard = framesHeard(
      player,
      200_000,
      (frame) => frame === 24_064 && player.setTables([tableOf([0, 1920], { bpm: 240 })]),
    );
    // From frame 24,064 (tick 962.56) on a tick lasts 12.5 frames.
    expect(heard.slice(0, 3)).toEqual([
      0,
      24_064 + Math.round((1920 - 962.56) * 12.5),
      24_064 + Math.round((3840 - 962.56) * 12.5),
    ]);
    const shorter = running(tableOf([0]));
    const anchors = framesHeard(
      shorter,
      192_000,
      (frame) =>
        frame === 72_064 &&
        shorter.setTables([tableOf([0], { span: { startTicks: 0 as Ticks, lengthTicks: 1920 as Ticks } })]),
    );
    // Tick 2882.56 of 3840 becomes 962.56 of 1920: the next downbeat is 957.44 ticks away.
    expect(anchors[1]).toBe(72_064 + Math.round(957.44 * 25));
  });

  test("the click has an accent on beat 1, counts in even when off, and stops with the transport", () => {
    const player = new Player(RATE, tableOf([]));
    player.start({ segment: 1, fromTicks: -3840 as Ticks, countIn: true });
    const [left, right] = [new Float32Array(96_000), new Float32Array(96_000)];
    player.process(left, right);
    const peaks = [0, 1, 2, 3].map((beat) => loudest(left.subarray(beat * 24_000, beat * 24_000 + 4000)));
    expect(peaks[0]).toBeCloseTo(fromDb(-10), 3);
    peaks.slice(1).forEach((peak) => expect(peak).toBeCloseTo(fromDb(-14), 3));
    player.process(left, right);
    expect(loudest(left)).toBe(0);
    player.setClick({ ...SILENT_CLICK, on: true, gain: 0.5 });
    player.process(left, right);
    expect(loudest(left)).toBeCloseTo(0.5 * fromDb(-10), 3);
    player.stop();
    player.process(left, right);
    expect(loudest(left)).toBe(0);
  });
});

/** What a player told its host. */
function listening() {
  const anchors: TransportAnchor[] = [];
  const ended: number[] = [];
  const notes: RepeatedNote[] = [];
  const changes: QueuedChange[] = [];
  return {
    anchors,
    changes,
    ended,
    notes,
    events: {
      anchor: (anchor: TransportAnchor) => void anchors.push(anchor),
      queued: (change: QueuedChange) => void changes.push(change),
      ended: (segment: number) => void ended.push(segment),
      repeated: (note: RepeatedNote) => void notes.push(note),
    },
  };
}

describe("laps, patterns and regions", () => {
  const LAP_FRAMES = 96_000;

  test("stops by itself at the end of the last lap; what is on the next downbeat does not sound", () => {
    const heard = listening();
    const player = new Player(RATE, tableOf([0, 1920]), heard.events);
    withSounds(player);
    player.start({ segment: 7, fromTicks: 0 as Ticks, countIn: false, laps: 2 });
    expect(framesHeard(player, 4 * LAP_FRAMES)).toEqual([0, 48_000, 96_000, 144_000]);
    expect([heard.ended, player.running]).toEqual([[7], false]);
  });

  test.each([
    ["lap", 96_000, 60_032, 3840],
    ["bar", 96_000, 60_032, 3840],
    ["bar", 48_000, 30_080, 1920],
  ] as const)("a pattern called up takes over at the %s, at frame %i", (moment, expected, asked, barTicks) => {
    const heard = listening();
    const meter = { beats: barTicks / 960, unit: 4 as const };
    // A length that does not divide into blocks; every pattern starts on its own downbeat.
    const player = running(tableOf([0, 1000], { meter }), 0, heard.events);
    const next = tableOf([0, 500], { patternId: 9, meter });
    const frames = framesHeard(player, 250_000, (frame) => frame === asked && player.queueTable(next, 2, moment));
    const before = [0, 25_000, 96_000].filter((frame) => frame < expected);
    expect(frames).toEqual(
      [...before, ...[0, 12_500, 96_000, 108_500, 192_000].map((frame) => expected + frame)].filter((f) => f < 250_000),
    );
    expect(heard.anchors.at(-1)).toMatchObject({ segment: 2, ticks: 0, patternId: 9, frame: expected });
  });

  test("a change at once counts the laps that are over, and leaves one at least", () => {
    const lapsAfter = (laps: number, atFrame: number) => {
      const heard = listening();
      const player = new Player(RATE, tableOf([0]), heard.events);
      withSounds(player);
      player.start({ segment: 1, fromTicks: 0 as Ticks, countIn: false, laps });
      let asked = false;
      framesHeard(player, 12 * LAP_FRAMES, (frame) => {
        if (asked || frame < atFrame) return;
        asked = true;
        player.queueTable(tableOf([0], { patternId: 9 }), 2, "now");
      });
      return heard.anchors.length === 2 && heard.ended;
    };
    // In the middle of lap 2 of 4 one lap is over, three are left; in the last one it is played to its end.
    expect([lapsAfter(4, 1.5 * LAP_FRAMES), lapsAfter(1, 0.5 * LAP_FRAMES)]).toEqual([[2], [2]]);
  });

  test("what was just missed by a change sounds late by up to 120 ms, and not later", () => {
    const soundsAfter = (missedBy: number) => {
      const player = running(tableOf([1000]));
      // Before it sounds, the event is moved so far behind the playhead.
      return framesHeard(player, 90_000, (frame) => {
        if (frame === 12_800) player.setTables([tableOf([512 - missedBy])]);
      });
    };
    // A tick is 25 frames: 120 ms are 230.4 ticks.
    expect([soundsAfter(230), soundsAfter(231)]).toEqual([[12_800], []]);
  });

  test("a change between patterns stands where the music does, to the sample, at any tempo", () =>
    fc.assert(
      fc.property(fc.double({ min: 100, max: 300, noNaN: true }), fc.integer({ min: 1, max: 6 }), (bpm, changes) => {
        const player = running(tableOf([0], { bpm }));
        const lap = (3840 * 60 * RATE) / (bpm * 960);
        let asked = 0;
        const frames = framesHeard(player, lap * (changes + 1.5), (frame) => {
          if (asked >= changes || frame < (asked + 0.5) * lap) return;
          asked++;
          player.queueTable(tableOf([0], { bpm, patternId: asked }), asked + 1, "lap");
        });
        expect(frames.length).toBe(changes + 2);
        frames.forEach((frame, index) => expect(Math.abs(frame - index * lap)).toBeLessThanOrEqual(1));
      }),
      { numRuns: 25 },
    ));

  test("news of a pattern that is not playing changes nothing; of the one that is queued, it counts", () => {
    const player = running(tableOf([0]));
    player.setTables([tableOf([100], { patternId: 5 })]);
    player.queueTable(tableOf([0], { patternId: 6 }), 2, "lap");
    player.setTables([tableOf([1920], { patternId: 6 })]);
    expect(framesHeard(player, 160_000)).toEqual([0, 96_000 + 48_000]);
  });

  test("a run that a stroke began stands where the stroke was, and what it just missed still sounds", () => {
    const player = new Player(RATE, tableOf([0, 960]));
    withSounds(player);
    player.seek(10_000);
    player.start({ segment: 1, fromTicks: 0 as Ticks, frame: 9_300.5, countIn: false });
    const [left, right] = [new Float32Array(40_000), new Float32Array(40_000)];
    player.process(left, right);
    expect([...left.keys()].filter((frame) => left[frame] !== 0)).toEqual([0, 9_301 + 24_000 - 10_000]);
  });

  test("pads that are being erased are silent at once and come back, strokes of theirs sound", () => {
    const player = running(tableOf([0, 960, 1920, 2880]));
    const frames = framesHeard(player, 96_000, (frame) => {
      if (frame === 12_800) player.silence(PART, [0]);
      if (frame === 38_400) player.hit(PART, 0, 127);
      if (frame === 64_000) player.silence(PART, []);
    });
    expect(frames).toEqual([0, 38_400, 72_000]);
  });

  test("a hit that was choked is cut off, and a grabbed drum fades", () => {
    const long = new Float32Array(RATE).fill(0.1);
    const ringing = bankOf(() => long);
    const player = running(tableOf([0], { lengthTicks: Float64Array.of(480), choked: Uint8Array.of(1) }));
    withSounds(player, ringing);
    const [left, right] = [new Float32Array(40_000), new Float32Array(40_000)];
    player.process(left, right);
    // 480 ticks are 12,000 frames, the fade after it 40 ms.
    expect([11_999, 12_960, 13_920].map((at) => Number(left[at]!.toFixed(3)))).toEqual([0.1, 0.05, 0]);
    player.stop();
    player.hit(PART, 3, 127);
    player.process(left, right);
    player.choke(PART, 3);
    player.process(left, right);
    expect([0, 2000].map((at) => Number(left[at]!.toFixed(3)))).toEqual([0.1, 0]);
  });

  test("the click follows the groups of the meter, divides the beat, and starts anew with a region's lap", () => {
    const levels = (table: Parameters<typeof running>[0], frames: number, subdivisionTicks = 0) => {
      const player = running(table);
      player.setClick({ ...SILENT_CLICK, on: true, subdivisionTicks });
      const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
      player.process(left, right);
      const step = 12_000;
      return Array.from({ length: frames / step }, (_, index) =>
        Math.round(20 * Math.log10(loudest(left.subarray(index * step, index * step + 4000)) + 1e-9)),
      );
    };
    const seven = { beats: 7, unit: 8 as const };
    expect(
      levels(tableOf([], { meter: seven, span: { startTicks: 0 as Ticks, lengthTicks: 3360 as Ticks } }), 84_000),
    ).toEqual([-10, -14, -12, -14, -12, -14, -14]);
    // Beats 3 and 4 of 4/4, round and round: never an accent, an eighth between the beats.
    const region = { startTicks: 1920 as Ticks, lengthTicks: 1920 as Ticks };
    expect(levels(tableOf([], { span: region }), 72_000, 480)).toEqual([-14, -16, -14, -16, -14, -16]);
  });
});

describe("note repeat", () => {
  const HOLD = { lane: 3, velocity: 100 };

  test.each(["1/4", "1/8", "1/8T", "1/16", "1/16T", "1/32", "1/32T", "1/64"] as const)(
    "at %s over a minute every line has its stroke, where the groove puts it, within a sample, across all loop ends",
    (rate) => {
      const heard = listening();
      const bpm = 131.7;
      const meter = { beats: 4, unit: 4 as const };
      const warp = swingWarp({ ratio: 0.62, unit: "1/16" }, meter);
      const player = running(tableOf([], { bpm, meter, warp }), 0, heard.events);
      player.setRate(GRID_TICKS[rate] as Ticks);
      player.hold(PART, HOLD);
      const frames = framesHeard(player, 60 * RATE);
      const framesPerTick = (60 * RATE) / (bpm * 960);
      const swung = (line: number) => {
        const inPair = line % 480;
        return line - inPair + (inPair < 240 ? inPair * 1.24 : 297.6 + (inPair - 240) * 0.76);
      };
      const lines = Array.from(
        { length: Math.ceil((60 * RATE) / framesPerTick / GRID_TICKS[rate]) + 1 },
        (_, index) => index * GRID_TICKS[rate],
      );
      const expected = lines
        .map((line) => swung(line) * framesPerTick)
        .filter((frame) => Math.round(frame) < frames.at(-1)! + 1);
      expect(frames.length).toBe(expected.length);
      expect(expected.length).toBeGreaterThan(Math.floor((131 * 960) / GRID_TICKS[rate]));
      frames.forEach((frame, index) => expect(Math.abs(frame - expected[index]!)).toBeLessThanOrEqual(1));
      expect(heard.notes.map(({ lineTicks }) => lineTicks)).toEqual(lines.slice(0, frames.length));
    },
  );

  test("changes of rate at any moment: from the next line on, none missing, none twice", () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e9 }), (seed) => {
        const random = seededRandom(seed);
        const heard = listening();
        const player = running(tableOf([]), 0, heard.events);
        const steps = Object.values(GRID_TICKS).filter((ticks) => 3840 % ticks === 0);
        let step: number = steps[Math.floor(random() * steps.length)]!;
        player.setRate(step as Ticks);
        player.hold(PART, HOLD);
        const changes: { readonly ticks: number; readonly step: number }[] = [{ ticks: 0, step }];
        framesHeard(player, 5 * 96_000, (frame) => {
          if (random() > 0.01) return;
          step = steps[Math.floor(random() * steps.length)]!;
          player.setRate(step as Ticks);
          changes.push({ ticks: frame / 25, step });
        });
        const expected = changes.flatMap(({ ticks, step }, index) => {
          const until = changes[index + 1]?.ticks ?? 5 * 3840;
          const first = Math.ceil(ticks / step) * step;
          return Array.from({ length: Math.max(0, Math.ceil((until - first) / step)) }, (_, n) => first + n * step);
        });
        expect(heard.notes.map(({ lineTicks }) => lineTicks)).toEqual([...new Set(expected)]);
      }),
      { numRuns: 60 },
    ));

  test("a short stroke still gets its line, a long one ends with the hand, and several pads go together", () => {
    const heard = listening();
    const player = running(tableOf([]), 0, heard.events);
    player.setRate(480 as Ticks);
    framesHeard(player, 96_000, (frame) => {
      if (frame === 1280) player.hold(PART, HOLD);
      if (frame === 2560) player.release(PART, 3);
      if (frame === 25_600) [5, 6].forEach((pad) => player.hold(PART, { lane: pad, velocity: 80 }));
      if (frame === 49_920) [5, 6].forEach((pad) => player.release(PART, pad));
    });
    expect(heard.notes.map(({ lane, lineTicks }) => [lane, lineTicks])).toEqual([
      [3, 480],
      [5, 1440],
      [6, 1440],
      [5, 1920],
      [6, 1920],
    ]);
  });

  test("with the transport stopped it begins with the stroke and runs at the tempo", () => {
    const heard = listening();
    const player = new Player(RATE, tableOf([]), heard.events);
    withSounds(player);
    player.setRate(240 as Ticks);
    const frames = framesHeard(player, 30_000, (frame) => frame === 1280 && player.hold(PART, HOLD));
    expect(frames).toEqual([1280, 7280, 13_280, 19_280, 25_280]);
    expect(heard.notes.every(({ lineTicks }) => lineTicks === undefined)).toBe(true);
  });

  test("rises over its length, follows pressure, and leaves nothing behind when the rate goes", () => {
    const heard = listening();
    const player = running(tableOf([]), 0, heard.events);
    player.setRate(960 as Ticks);
    player.hold(PART, { ...HOLD, ramp: { fromRatio: 0.2, toRatio: 1, overTicks: 1920 } });
    framesHeard(player, 96_000);
    expect(heard.notes.map(({ velocity }) => velocity)).toEqual([20, 60, 100, 100]);
    // Another rate in the middle of it is no new beginning.
    player.setRate(480 as Ticks);
    framesHeard(player, 24_000);
    expect(new Set(heard.notes.slice(4).map(({ velocity }) => velocity))).toEqual(new Set([100]));
    player.press(PART, 3, 40);
    player.hold(PART, { ...HOLD });
    player.press(PART, 3, 33);
    framesHeard(player, 24_000);
    expect(heard.notes.at(-1)!.velocity).toBe(33);
    player.setRate(0 as Ticks);
    player.setRate(960 as Ticks);
    expect(framesHeard(player, 96_000)).toEqual([]);
  });
});
