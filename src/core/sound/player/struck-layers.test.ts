import type { Ticks } from "../../time/ticks";
import { emptyTable } from "./event-table";
import { Player } from "./player";
import type { LaneSound, Sound } from "../signal/sound";

const RATE = 48_000;

const constant = (value: number, more: Partial<Sound> = {}): Sound => ({
  layers: [[new Float32Array(20_000).fill(value)]],
  velocities: [127],
  gainLeft: 1,
  gainRight: 1,
  chokeGroup: 0,
  ...more,
});

/** A player whose only part has these lanes, of sounds that are constants. */
function playerOf(lanes: readonly (readonly LaneSound[])[]): Player {
  const player = new Player(RATE, { ...emptyTable(120, { beats: 4, unit: 4 }, 3840 as Ticks), partId: 1 });
  player.addSounds({ a: constant(0.25), b: constant(0.5) });
  player.setLanes(1, { lanes });
  return player;
}

/** The next block, left and right, by its frame. */
function block(player: Player, frames = 128) {
  const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
  player.process(left, right);
  return { left, right };
}

const LAYER = { rate: 1 } as const;

// Four layers, two of which meet at 64; velocities fall as a stroke's do, by (v / 127) to the power of 1.8.
test.each([
  [1, []],
  [39, []],
  [40, ["a"]],
  [63, ["a"]],
  [64, ["a", "b"]],
  [65, ["b"]],
  [127, ["b", "a"]],
] as const)("at velocity %i sound %j", (velocity, sounding) => {
  const player = playerOf([
    [
      { ...LAYER, soundId: "a", velocities: [40, 64] },
      { ...LAYER, soundId: "b", velocities: [64, 127] },
      { ...LAYER, soundId: "a", velocities: [127, 127] },
      { ...LAYER, soundId: "missing" },
    ],
  ]);
  player.hit(1, 0, velocity);
  const loud = sounding.reduce((sum, id) => sum + { a: 0.25, b: 0.5 }[id], 0) * Math.pow(velocity / 127, 1.8);
  expect(block(player).left[100]).toBeCloseTo(loud, 6);
});

test("left and right of a sample are two sounds; a decay falls by 60 dB in its time and then makes room", () => {
  const player = playerOf([
    [
      { ...LAYER, soundId: "a", gains: [1, 0] },
      { ...LAYER, soundId: "b", gains: [0, 1] },
    ],
    [{ ...LAYER, soundId: "a", decaySeconds: 0.1 }],
  ]);
  player.hit(1, 0, 127);
  const { left, right } = block(player);
  expect([left[50], right[50]]).toEqual([0.25, 0.5]);
  const decaying = playerOf([[{ ...LAYER, soundId: "a", decaySeconds: 0.1 }]]);
  decaying.hit(1, 0, 127);
  const fallen = block(decaying, 9600).left;
  expect(fallen[0]).toBe(0.25);
  expect(20 * Math.log10(fallen[4800]! / 0.25)).toBeCloseTo(-60, 2);
  expect(fallen[8100]).toBe(0);
  expect(decaying.mixer.activeVoices(9600)).toBe(0);
});

test("a voice that takes the place of one that has decayed begins as loud as that did", () => {
  const decaying = playerOf([[{ ...LAYER, soundId: "a", decaySeconds: 0.02 }]]);
  const strokes = Array.from({ length: 100 }, () => {
    decaying.hit(1, 0, 127);
    return Math.max(...block(decaying, 2400).left);
  });
  expect(new Set(strokes)).toEqual(new Set([0.25]));
});

test("pads of one choke group cut each other off, whatever their sounds do; layers of one stroke do not", () => {
  const both: readonly LaneSound[] = [
    { ...LAYER, soundId: "a", chokeGroup: 3 },
    { ...LAYER, soundId: "b", chokeGroup: 3 },
  ];
  const player = playerOf([both, [{ ...LAYER, soundId: "a", chokeGroup: 3 }]]);
  player.hit(1, 0, 127);
  expect(block(player).left[100]).toBe(0.75);
  player.hit(1, 1, 127);
  expect(block(player, 2400).left.at(-1)).toBe(0.25);
});

test("what is held ends when it is let go, in 40 ms, and with its note in a table", () => {
  const player = playerOf([[{ ...LAYER, soundId: "a", held: true }]]);
  player.hit(1, 0, 127);
  expect(block(player).left[100]).toBe(0.25);
  player.letGo(1, 0);
  const { left } = block(player, 2400);
  expect(left[960]).toBeCloseTo(0.125, 3);
  expect(left[1921]).toBe(0);
});

test("sounds that are dropped are struck no more, and what rings of them rings on", () => {
  const player = playerOf([[{ ...LAYER, soundId: "a" }]]);
  player.hit(1, 0, 127);
  player.dropSounds(["a"]);
  expect(block(player).left[0]).toBe(0.25);
  player.hit(1, 0, 127);
  expect(block(player).left[0]).toBe(0.25);
});
