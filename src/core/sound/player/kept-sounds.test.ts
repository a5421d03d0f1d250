import type { Ticks } from "../../time/ticks";
import { emptyTable } from "./event-table";
import { newKernel } from "../kernel/new-kernel";
import { KeptSounds } from "./kept-sounds";
import { Player } from "./player";
import type { Sound } from "../signal/sound";

const RATE = 8000;
const FRAMES = 4000;

const soundOf = (value: number): Sound => ({
  layers: [[new Float32Array(FRAMES).fill(value)]],
  velocities: [127],
  gainLeft: 1,
  gainRight: 1,
  chokeGroup: 0,
});

test("what rings of a sound that is dropped rings on, and only then its room is another's", () => {
  // Room for one of them.
  const kernel = newKernel(RATE, 4 * FRAMES);
  const player = new Player(
    RATE,
    { ...emptyTable(120, { beats: 4, unit: 4 }, 3840 as Ticks), partId: 1 },
    undefined,
    kernel,
  );
  const free = kernel.samples!.free;
  const [left, right] = [new Float32Array(1000), new Float32Array(1000)];
  const play = () => {
    player.process(left, right);
    return [left[1], left.at(-1)];
  };
  player.addSounds({ first: soundOf(0.25) });
  play();
  expect(kernel.samples!.free).toBe(free - 4 * FRAMES);
  player.setLanes(1, { lanes: [[{ soundId: "first", rate: 1 }], [{ soundId: "second", rate: 1 }]] });
  player.hit(1, 0, 127);
  expect(play()).toEqual([0.25, 0.25]);
  player.dropSounds(["first"]);
  player.addSounds({ second: soundOf(0.5) });
  expect(play()).toEqual([0.25, 0.25]);
  player.hit(1, 1, 127);
  expect(play()).toEqual([0.75, 0.75]);
  for (let block = 0; block < 8; block++) play();
  player.addSounds({ second: soundOf(0.125) });
  play();
  expect(kernel.samples!.free).toBe(free - 4 * FRAMES);
  player.hit(1, 1, 127);
  expect(play()).toEqual([0.125, 0.125]);
});

test("a kit that comes at once is moved a little with each block; what is dropped meanwhile is not moved at all", () => {
  const samples = Array.from({ length: 40 }, () => new Float32Array(5000));
  const kit = { layers: [samples], velocities: [127], gainLeft: 1, gainRight: 1, chokeGroup: 0 };
  const memory = newKernel(RATE, 2 ** 21).samples!;
  const kept = new KeptSounds(memory, () => false);
  const before = memory.free;
  kept.keep({ kit, other: kit });
  kept.drop(["other"]);
  const moved: number[] = [];
  for (let free = before; moved.at(-1) !== 0; free = memory.free) {
    kept.moveSome();
    moved.push(free - memory.free);
  }
  expect(Math.max(...moved)).toBeLessThan(90_000);
  expect(before - memory.free).toBe(40 * 5000 * 4);
  kept.drop(["kit"]);
  expect(memory.free).toBe(before);
});
