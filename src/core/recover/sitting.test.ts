import type { Echo } from "./echo";
import { justPlayed } from "./sitting";

const MINUTE_MS = 60_000;
const echo = (id: number, minutes: number, beatId: string): Echo => {
  const timeMs = minutes * MINUTE_MS;
  const hit = { timeMs, pad: 0, note: 36, velocity: 90, device: "keys", beatId, partId: 1 };
  return { id, hits: [hit], endMs: timeMs };
};
const idsOf = (echoes: readonly Echo[]) => echoes.map(({ id }) => id);

test("what was played in this beat, back to the first long pause, the newest first; other beats are other beats", () => {
  const echoes = [
    echo(1, 0, "a"),
    echo(2, 50, "a"),
    echo(3, 70, "b"),
    echo(4, 79, "a"),
    echo(5, 100, "b"),
    echo(6, 101, "a"),
  ];
  expect(idsOf(justPlayed(echoes, "a", 110 * MINUTE_MS))).toEqual([6, 4, 2]);
  expect(idsOf(justPlayed(echoes, "b", 110 * MINUTE_MS))).toEqual([5, 3]);
  expect(idsOf(justPlayed(echoes, "c", 110 * MINUTE_MS))).toEqual([]);
  expect(idsOf(justPlayed(echoes, "a", 132 * MINUTE_MS))).toEqual([]);
});
