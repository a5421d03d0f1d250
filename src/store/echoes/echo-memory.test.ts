import { settledHits } from "@/core/recover/echo";
import { BEAT_MS, session, takeTestTime } from "../../../tests/support/session";

takeTestTime();

test("a page that dies while strokes wait for the clock has kept them; placed, they are kept once, with their place", async () => {
  const page = session();
  const { workspace, engine, repository, play, goTo } = page;
  workspace.transport.play();
  engine.waiting = [];
  play(1, BEAT_MS);
  // A quarter of a second and the store's own time, which is none here.
  goTo(BEAT_MS + 260);
  await repository.lookback.settled();
  const kept = async () =>
    settledHits(await repository.lookback.read()).map(({ pad: lane, along }) => [lane, along?.playedTicks]);
  expect(await kept()).toEqual([[1, undefined]]);
  engine.settle();
  goTo(BEAT_MS + 600);
  await repository.lookback.settled();
  expect(await kept()).toEqual([[1, 960]]);
  expect(workspace.echoes.refresh().flatMap(({ hits }) => hits.map(({ along }) => along?.playedTicks))).toEqual([960]);
});
