import { bankOf, framesHeard, mixOf, RATE, tableOf, withSounds } from "../../../../tests/support/player-probe";
import { seededRandom } from "../../random";
import type { Ticks } from "../../time/ticks";
import type { EventTable } from "./event-table";
import { Player } from "./player";
import { SILENT_CLICK } from "./click-track";
import type { QueuedChange, SwitchMoment } from "./track";

// 120 BPM at 48 kHz: 25 frames a tick, 96,000 a bar.
const BAR = 3840;
const BAR_FRAMES = 96_000;
const BLOCK = 128;

/** A pattern of some bars with events at these ticks. */
function pattern(partId: number, patternId: number, bars: number, ticks: readonly number[]): EventTable {
  const span = { startTicks: 0 as Ticks, lengthTicks: (bars * BAR) as Ticks };
  return tableOf(ticks, { partId, patternId, span });
}

/** Part by part, the frames at which it sounded: each is half as loud as the one before, so sums tell them apart. */
function heardByPart(player: Player, parts: number, bars: number, between: (frame: number) => void = () => {}) {
  const heard = Array.from({ length: parts }, (): number[] => []);
  for (let part = 0; part < parts; part++) player.mix(part, mixOf(new Float32Array(256).fill(2 ** -part)));
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  for (let frame = 0; frame < bars * BAR_FRAMES; frame += BLOCK) {
    between(frame);
    player.process(left, right);
    left.forEach((sample, index) => {
      const parted = Math.round((sample / 0.25) * 2 ** (parts - 1));
      for (let part = 0; part < parts; part++) if (parted & (2 ** (parts - 1 - part))) heard[part]!.push(frame + index);
    });
  }
  return heard;
}

function started(
  tables: readonly EventTable[],
  more: Partial<Parameters<Player["start"]>[0]> = {},
  queued?: (change: QueuedChange) => void,
) {
  const player = new Player(RATE, tables[0]!, { anchor() {}, ended() {}, repeated() {}, queued: queued ?? (() => {}) });
  withSounds(player);
  player.setTables(tables);
  player.start({ segment: 1, fromTicks: 0 as Ticks, countIn: false, ...more });
  return player;
}

test("parts of 1, 2, 3 and 4 bars go round on one clock, and change patterns each at its own moment, to the sample", () => {
  const random = seededRandom(11);
  const events = (bars: number) =>
    Array.from({ length: bars * 4 }, (_, beat) => beat * 960 + Math.floor(600 * random())).filter(() => random() < 0.7);
  const lengths = [1, 2, 3, 4];
  const first = lengths.map((bars, part) => ({ bars, ticks: events(bars), part }));
  const second = lengths.map((_, part) => ({ bars: lengths[3 - part]!, ticks: events(lengths[3 - part]!), part }));
  const moments: readonly SwitchMoment[] = ["bar", "lap", "now", "lap"];
  const told = new Map<number, number>();
  const player = started(
    first.map(({ bars, ticks, part }) => pattern(part, 10, bars, ticks)),
    {},
    ({ partId, atTicks }) => void told.set(partId, atTicks),
  );
  // Each part is told somewhere in the ninth bar.
  const askedFrames = lengths.map((_, part) => Math.ceil(((8.2 + 0.15 * part) * BAR_FRAMES) / BLOCK) * BLOCK);
  const heard = heardByPart(player, 4, 24, (frame) =>
    askedFrames.forEach((asked, part) => {
      const { bars, ticks } = second[part]!;
      if (frame === asked) player.queueTable(pattern(part, 11, bars, ticks), 2 + part, moments[part]!);
    }),
  );
  const expected = lengths.map((bars, part) => {
    const lapTicks = bars * BAR;
    const asked = askedFrames[part]! / 25;
    const nextBar = Math.ceil(asked / BAR) * BAR;
    const change = { bar: nextBar, lap: Math.ceil(asked / lapTicks) * lapTicks, now: asked }[moments[part]!];
    if (moments[part] !== "now") expect(told.get(part)).toBe(change);
    const before = laps(first[part]!, 0).filter((tick) => tick < change);
    // At once, the new pattern is where the old one was.
    const from = moments[part] === "now" ? change - (change % (second[part]!.bars * BAR)) : change;
    const after = laps(second[part]!, from).filter((tick) => tick >= change);
    return [...before, ...after].map((tick) => tick * 25);
  });
  heard.forEach((frames, part) => expect(frames).toEqual(expected[part]));

  function laps({ bars, ticks }: { bars: number; ticks: readonly number[] }, fromTicks: number): number[] {
    const all: number[] = [];
    for (let lap = fromTicks; lap < 24 * BAR; lap += bars * BAR) all.push(...ticks.map((tick) => lap + tick));
    return all.filter((tick) => tick < 24 * BAR).sort((a, b) => a - b);
  }
});

test("a stroke that is rounded to the very frame of a change at once sounds, and one that was rounded to the frame before does not again", () => {
  const change = 750 * BLOCK;
  for (const [frames, sounds] of [
    [-0.4, true],
    [-0.6, false],
    [0, true],
  ] as const) {
    const player = started([pattern(0, 1, 2, [0])]);
    const next = pattern(0, 2, 2, [(change + frames) / 25, 4800]);
    const heard = heardByPart(player, 1, 2, (frame) => frame === change && player.queueTable(next, 2, "now"));
    expect(heard[0]).toEqual([0, ...(sounds ? [change] : []), 1.25 * BAR_FRAMES]);
  }
});

test("a pattern can wait for the end of another part's lap, from wherever it is itself", () => {
  const told: QueuedChange[] = [];
  const player = started([pattern(0, 1, 1, [0]), pattern(1, 1, 3, [960])], {}, (change) => void told.push(change));
  const heard = heardByPart(player, 2, 8, (frame) => {
    if (frame === 375 * BLOCK) player.queueTable(pattern(0, 2, 1, [480]), 2, "lap", 1);
    // Another part's "next bar" and "at once" are one's own; a part that is not there waits for itself.
    if (frame === 6 * 750 * BLOCK + 375 * BLOCK) player.queueTable(pattern(0, 3, 1, [1920]), 3, "lap", 9);
  });
  expect(told.map(({ segment, atTicks }) => [segment, atTicks])).toEqual([
    [2, 3 * BAR],
    [3, 4 * BAR],
  ]);
  expect(heard[0]).toEqual([0, 1, 2, 3.125, 4.125, 5.125, 6.125, 7.5].map((bar) => bar * BAR_FRAMES));
  expect(heard[1]).toEqual([0.25, 3.25, 6.25].map((bar) => bar * BAR_FRAMES));
});

test("each lane reports the highest amplitude that its voices came to since it was asked, and only lanes that sounded", () => {
  const player = started([tableOf([0, 0, 960, 960], { partId: 0, lanes: Uint8Array.of(3, 5, 5, 5) })]);
  player.mix(0, mixOf(new Float32Array(256).fill(1).fill(0.25, 10, 12)));
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  const render = (frames: number) => {
    for (let frame = 0; frame < frames; frame += BLOCK) player.process(left, right);
    return player.takePeaks()[0]!.lanes;
  };
  const [loud, soft] = render(0.2 * BAR_FRAMES);
  expect([loud!.lane, soft!.lane]).toEqual([3, 5]);
  expect(soft!.peak).toBeCloseTo(loud!.peak / 4, 6);
  // Two voices of a lane add up.
  expect(render(0.1 * BAR_FRAMES)).toEqual([{ lane: 5, peak: 2 * soft!.peak }]);
  expect(render(0.1 * BAR_FRAMES)).toEqual([]);
});

test("a part that comes later is where it would be had it been there; one that is taken away rings out and is silent", () => {
  const player = started([pattern(0, 1, 1, [0])]);
  const heard = heardByPart(player, 2, 8, (frame) => {
    if (frame === 256 * BLOCK) {
      player.setTables([pattern(1, 1, 3, [960])]);
      player.mix(1, mixOf(new Float32Array(256).fill(0.5)));
    }
    if (frame === 6 * BAR_FRAMES) player.removePart(1);
    if (frame === 6 * BAR_FRAMES) player.removePart(0);
  });
  expect(heard[0]).toEqual([0, 1, 2, 3, 4, 5, 6, 7].map((bar) => bar * BAR_FRAMES));
  expect(heard[1]).toEqual([3.25 * BAR_FRAMES]);
});

test("a change of tempo moves all parts at the same frame: many changes leave them together", () => {
  const random = seededRandom(3);
  const tables = (bpm: number) => [pattern(0, 1, 1, [0]), pattern(1, 1, 1, [0])].map((table) => ({ ...table, bpm }));
  const player = started(tables(120));
  const heard = heardByPart(player, 2, 40, (frame) => {
    if (random() < 0.01 && frame > 0) player.setTables(tables(60 + Math.floor(120 * random())));
  });
  expect(heard[0]!.length).toBeGreaterThan(25);
  expect(heard[1]).toEqual(heard[0]);
});

test("the leading part has the click and the last lap; another one that leads takes both over", () => {
  const longer = pattern(1, 1, 2, [0, BAR]);
  // After three laps of one bar all are silent, also in the middle of the other's lap.
  const stopped = heardByPart(started([pattern(0, 1, 1, [0]), longer], { laps: 3 }), 2, 6);
  expect(stopped).toEqual([[0, 1, 2].map((bar) => bar * BAR_FRAMES), [0, 1, 2].map((bar) => bar * BAR_FRAMES)]);
  const led = started([pattern(0, 1, 1, [0]), longer], { laps: 3 });
  led.setLead(1);
  // The lap of two bars that has begun by then is played through.
  expect(heardByPart(led, 2, 6)[0]).toEqual([0, 1, 2, 3].map((bar) => bar * BAR_FRAMES));
  const clicking = started([pattern(0, 1, 1, []), pattern(1, 2, 1, [])]);
  clicking.setClick({ ...SILENT_CLICK, on: true });
  clicking.setLead(1);
  clicking.setLead(7);
  const clicks = framesHeard(clicking, BAR_FRAMES).filter(
    (frame, index, all) => frame - (all[index - 1] ?? -9e9) > 9000,
  );
  expect(clicks).toHaveLength(4);
});

test("another part's changes take no lap from the leading one; what is called up for the stop does not begin", () => {
  const runs: number[] = [];
  const ended: number[] = [];
  const tables = [pattern(0, 1, 2, [0]), pattern(1, 1, 1, [0])];
  const player = new Player(RATE, tables[0]!, {
    anchor: ({ segment }) => void runs.push(segment),
    ended: (segment) => void ended.push(segment),
    queued() {},
    repeated() {},
  });
  withSounds(player);
  player.setTables(tables);
  player.start({ segment: 1, fromTicks: 0 as Ticks, countIn: false, laps: 2 });
  const heard = heardByPart(player, 2, 6, (frame) => {
    if (frame === 0.5 * BAR_FRAMES) player.queueTable(pattern(1, 2, 1, [960]), 2, "bar");
    if (frame === 1.5 * BAR_FRAMES) player.queueTable(pattern(1, 3, 1, [1920]), 3, "now");
    if (frame === 3.5 * BAR_FRAMES) player.queueTable(pattern(0, 4, 1, [0]), 4, "lap");
  });
  expect(heard[0]).toEqual([0, 2 * BAR_FRAMES]);
  expect([runs, ended]).toEqual([[1, 1, 2, 3], [1]]);
});

test("what is erased, held, grabbed or turned down in one part leaves the others alone, and no table is needed for it", () => {
  const player = started([pattern(0, 1, 1, [0]), pattern(1, 1, 1, [480])]);
  player.silence(1, [0]);
  expect(heardByPart(player, 2, 1)).toEqual([[0], []]);
  player.silence(1, []);
  player.setRate(960 as Ticks);
  player.hold(1, { lane: 5, velocity: 127 });
  const frames = heardByPart(player, 2, 1);
  expect(frames).toEqual([[0], [0, 0.125, 0.25, 0.5, 0.75].map((bar) => bar * BAR_FRAMES)]);
  const gains = new Float32Array(256);
  player.mix(0, mixOf(gains));
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  player.process(left, right);
  // What is left is the note that repeats on the same line.
  expect(left[0]).toBe(0.125);
});

test("of a muted lane only what is being recorded sounds, and what is struck", () => {
  const always = Uint8Array.of(0, 1);
  const player = started([{ ...pattern(0, 1, 1, [0, 960]), always }]);
  player.mix(0, {
    gains: new Float32Array(256).fill(1),
    room: new Float32Array(128),
    muted: new Uint8Array(128).fill(1),
  });
  const struck = framesHeard(player, BAR_FRAMES, (frame) => frame === BAR_FRAMES / 2 && player.hit(0, 0, 127));
  expect(struck).toEqual([BAR_FRAMES / 4, BAR_FRAMES / 2]);
  player.mix(0, { gains: new Float32Array(256).fill(1), room: new Float32Array(128), muted: new Uint8Array(128) });
  expect(framesHeard(player, BAR_FRAMES)).toEqual([0, BAR_FRAMES / 4]);
});

test("sounds of a group cut each other off within a part, and what sounds goes along with its fader", () => {
  const long = new Float32Array(BAR_FRAMES).fill(0.25);
  const hats = bankOf(() => long, { gainRight: 0.5, chokeGroup: 1 });
  const player = started([pattern(0, 1, 1, []), pattern(1, 1, 1, [])]);
  withSounds(player, hats);
  const [left, right] = [new Float32Array(2 * RATE), new Float32Array(2 * RATE)];
  const sound = () => (player.process(left.fill(0), right.fill(0)), [left.at(-1), right.at(-1)]);
  player.stop();
  for (const part of [0, 1]) player.hit(part, 3, 127);
  player.process(left.subarray(0, BLOCK), right.subarray(0, BLOCK));
  expect([left[BLOCK - 1], right[BLOCK - 1]]).toEqual([0.5, 0.25]);
  player.hit(0, 4, 127);
  player.process(left.subarray(0, 2560), right.subarray(0, 2560));
  // The one before of that part has faded, the other part's rings.
  expect([left[2559], right[2559]]).toEqual([0.5, 0.25]);
  const gains = new Float32Array(256).fill(1);
  gains.set([0.5, 0], 2 * 4);
  player.mix(0, mixOf(gains));
  player.process(left.subarray(0, BLOCK), right.subarray(0, BLOCK));
  expect([left[127], right[127]]).toEqual([0.375, 0.125]);
  // It moves in a straight line: a mute in the middle of a sound does not click.
  for (let frame = 1; frame < BLOCK; frame++) expect(Math.abs(left[frame]! - left[frame - 1]!)).toBeLessThan(0.0011);
  expect(left[0]).toBeGreaterThan(0.49);
  player.choke(1, 3);
  player.process(left.subarray(0, 2560), right.subarray(0, 2560));
  expect([left[2559], right[2559]]).toEqual([0.125, 0]);
  expect(sound()).toEqual([0, 0]);
});
