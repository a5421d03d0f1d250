import { BEAT_MS, LAP_MS, passesOf, session, takeTestTime } from "../../../tests/support/session";

takeTestTime();

test("play and stop: a run that is asked for twice goes on, stop ends waiting as well, and twice is once", () => {
  const { workspace, engine, goTo } = session({ startOnHit: true });
  const starts = () => engine.orders.filter(({ type }) => type === "start").length;
  const stops = () => engine.orders.filter(({ type }) => type === "stop").length;
  workspace.transport.play();
  goTo(100);
  workspace.transport.play();
  expect(starts()).toBe(1);
  workspace.transport.togglePlay();
  workspace.transport.stop();
  expect([workspace.state.transport.running, stops()]).toEqual([false, 1]);
  workspace.transport.toggleRecord();
  expect(workspace.state.transport.waiting).toBe(true);
  workspace.transport.togglePlay();
  // It waited, and nothing played: there is nothing to stop in the audio thread.
  expect([workspace.state.transport.waiting, starts(), stops()]).toEqual([false, 1, 1]);
});

test("what was recorded is saved at once when the transport stops, and a run without record saves nothing", async () => {
  const { workspace, play, goTo } = session();
  const settled = jest.spyOn(workspace.document, "settled");
  workspace.transport.play();
  goTo(BEAT_MS);
  workspace.transport.stop();
  expect(settled).not.toHaveBeenCalled();
  workspace.transport.toggleRecord();
  play(0, 2 * BEAT_MS);
  workspace.transport.stop();
  expect(settled).toHaveBeenCalledTimes(1);
  expect(passesOf(workspace)).toHaveLength(1);
});

test("the last lap ends by itself, once, with record; news of a run that is over is no news", () => {
  const { workspace, engine, play, goTo } = session({ stopAfterLaps: 1 });
  const settled = jest.spyOn(workspace.document, "settled");
  workspace.transport.toggleRecord();
  play(0, BEAT_MS);
  goTo(LAP_MS + 100);
  expect([workspace.state.transport.running, settled.mock.calls.length]).toEqual([false, 1]);
  workspace.transport.ended(1);
  expect(settled).toHaveBeenCalledTimes(1);
  workspace.setSettings({ stopAfterLaps: 0 });
  workspace.transport.play();
  goTo(LAP_MS + 300);
  const { segment } = engine.last("start").order;
  workspace.transport.ended(segment - 1);
  expect(workspace.state.transport.running).toBe(true);
  const anchor = { segment: segment - 1, frame: 0, ticks: 0, bpm: 120, ...workspace.state.patternRef } as never;
  expect(workspace.playback.follow(anchor)).toBe(false);
  workspace.transport.stop();
  expect(workspace.playback.follow({ ...(anchor as object), run: segment } as never)).toBe(false);
});
