import { median } from "simple-statistics";
import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";
import { mixOf, RATE, tableOf, withSounds } from "../../../../tests/support/player-probe";
import type { Ticks } from "../../time/ticks";
import { newKernel } from "../kernel/new-kernel";
import { Player } from "./player";
import { NO_LANE, type PartLanes, type Sound } from "../signal/sound";

const BLOCK = 128;
const RELEASE = 480;
/** Goes round for ever at one level until it is let go. */
const TONE: Sound = {
  layers: [[new Float32Array(103).fill(0.125)]],
  velocities: [127],
  gainLeft: 1,
  gainRight: 1,
  chokeGroup: 0,
  held: { loop: [10, 100], releaseFrames: RELEASE },
};
const LANES: PartLanes = { lanes: Array.from({ length: 128 }, () => [{ soundId: "tone", rate: 1 }]), pitched: true };
const ALONG: PartLanes = {
  ...LANES,
  also: [{ partId: 2, lanes: Uint8Array.from({ length: 128 }, (_, lane) => (lane < 64 ? lane : NO_LANE)) }],
};

function threeParts() {
  const tables = [1, 2, 3].map((partId) => tableOf([], { partId, patternId: partId }));
  const player = new Player(RATE, tables[0]!);
  player.addSounds({ tone: TONE });
  player.setTables(tables);
  tables.forEach(({ partId }) => player.setLanes(partId, LANES));
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  /** The level at the end of so many frames. */
  const after = (frames: number) => {
    for (let frame = 0; frame < frames; frame += BLOCK) player.process(left, right);
    return left.at(-1);
  };
  return { player, after };
}

test("a note that is held ends with its part, and one that sounds along when it does so no more; others sound on", () => {
  const { player, after } = threeParts();
  player.setLanes(1, ALONG);
  player.hit(1, 60, 127);
  player.hit(3, 61, 127);
  expect(after(RATE)).toBe(0.375);
  player.setLanes(1, { ...ALONG, also: [...ALONG.also!] });
  expect(after(2 * RELEASE)).toBe(0.375);
  player.setLanes(1, LANES);
  expect(after(2 * RELEASE)).toBe(0.25);
  player.removePart(3);
  expect(after(2 * RELEASE)).toBe(0.125);
  player.letGo(1, 60);
  expect(after(2 * RELEASE)).toBe(0);
});

test("a key that is struck again takes the place of its own note and of no other one", () => {
  const { player, after } = threeParts();
  const struck = [
    [1, 60],
    [1, 64],
    [2, 60],
    [1, 60],
  ] as const;
  const levels = struck.map(([part, lane]) => {
    player.hit(part, lane, 127);
    return after(RATE / 10);
  });
  expect(levels).toEqual([0.125, 0.25, 0.375, 0.375]);
  player.letGo(1, 60);
  expect(after(2 * RELEASE)).toBe(0.25);
});

test("while eight parts play, nothing is made that has to be cleared away", () => {
  setFlagsFromString("--expose-gc");
  const clear = runInNewContext("gc") as () => void;
  const sixteenths = Array.from({ length: 16 }, (_, at) => at * 240);
  const tables = Array.from({ length: 8 }, (_, at) => tableOf(sixteenths, { partId: at + 1, patternId: at + 1 }));
  const player = withSounds(new Player(RATE, tables[0]!, undefined, newKernel(RATE, 2 ** 20)));
  player.addSounds({ tone: TONE });
  tables.forEach(({ partId }) => partId > 2 && player.setLanes(partId, partId === 3 ? ALONG : LANES));
  player.setTables(tables);
  for (const { partId } of tables) player.mix(partId, mixOf(new Float32Array(256).fill(0.1)));
  player.start({ segment: 1, fromTicks: 0 as Ticks, countIn: false });
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  const play = (blocks: number) => {
    for (let block = 0; block < blocks; block++) player.process(left, right);
  };
  play(4000);
  const used = (blocks: number) => {
    const before = process.memoryUsage().heapUsed;
    play(blocks);
    return process.memoryUsage().heapUsed - before;
  };
  // Numbers that go from function to function take some hundred bytes a block until the code is hot, which takes as long as the
  // machine needs; a thing a part would be 400, for good.
  let bytes = Infinity;
  for (let round = 0; round < 300 && bytes >= 256; round++)
    bytes = median(Array.from({ length: 15 }, () => used(200) / 200));
  expect(bytes).toBeLessThan(256);
  const kept = Array.from({ length: 3 }, () => {
    clear();
    const before = process.memoryUsage().heapUsed;
    play(10_000);
    clear();
    return process.memoryUsage().heapUsed - before;
  });
  expect(Math.min(...kept)).toBeLessThan(16_000);
});
