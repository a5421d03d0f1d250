import { session, takeTestTime } from "../../../tests/support/session";

takeTestTime();

test("what was too loud is held until it is looked at, with the lane that was the loudest; the cure turns all parts down", () => {
  const { workspace, engine } = session();
  workspace.parts.addVoice("keel");
  const [kit, voice] = workspace.beat.parts;
  let since = 0;
  const report = (overDb: number, kick = 0.5) => {
    const lanes = [
      { lane: 0, peak: kick },
      { lane: 1, peak: 0.7 },
    ];
    const parts = [
      { partId: kit!.id, peak: kick, lanes },
      { partId: voice!.id, peak: 0.4, lanes: [{ lane: 40, peak: 0.4 }] },
    ];
    const loud = { momentaryLufs: -9, integratedLufs: -12, since };
    workspace.mix.report({ peakLeft: 0.9, peakRight: 0.5, parts, limited: overDb > 0, overDb, ...loud });
  };
  report(2.2, 0.9);
  report(0);
  report(1, 0.1);
  workspace.transport.play();
  expect(workspace.state.clip).toEqual({ overDb: 2.2, partId: kit!.id, lane: 0, at: undefined });
  const { peaks } = workspace.mix;
  expect(peaks.ofLane(kit!.id, 0)).toBe(0.9);
  expect(peaks.ofPart(voice!.id)).toBe(0.4);
  expect(peaks.sum).toBeCloseTo(0.9 * Math.pow(10, 2.2 / 20), 6);
  // Three decibels less of everything, and nothing is held any more; undo gives the levels back.
  workspace.mix.turnDown();
  expect(workspace.beat.parts.map(({ mix }) => mix.levelDb)).toEqual([-3, -3]);
  expect([workspace.state.clip, peaks.sum, engine.last("measure")]).toEqual([
    undefined,
    0,
    { type: "measure", since: 1 },
  ]);
  // What was measured before and comes only now says nothing; what was measured since does.
  report(3);
  expect([workspace.state.clip, peaks.sum]).toEqual([undefined, 0]);
  since = 1;
  report(0);
  expect(peaks.sum).toBe(0.9);
  workspace.document.undo();
  expect(workspace.beat.parts.map(({ mix }) => mix.levelDb)).toEqual([0, 0]);
});

test("a pad's fader is heard as a gain, within its range and in one step of undo; no table is compiled for it", () => {
  const { workspace, engine, goTo } = session();
  workspace.transport.play();
  goTo(500);
  const tables = engine.orders.filter(({ type }) => type === "tables").length;
  const { past } = workspace.state.history;
  const mixes = () => engine.orders.filter(({ type }) => type === "mix").length;
  const before = mixes();
  for (let move = 1; move <= 64; move++) workspace.mix.setPad(2, { levelDb: -move / 4, pan: 0.5 }, "drag");
  // Each at once.
  expect(mixes()).toBe(before + 64);
  goTo(1000);
  expect(engine.orders.filter(({ type }) => type === "tables")).toHaveLength(tables);
  const { mix } = engine.last("mix");
  expect([...mix.gains.subarray(4, 6)].map((gain) => Number(gain.toFixed(3)))).toEqual(
    [Math.cos((3 * Math.PI) / 8), Math.sin((3 * Math.PI) / 8)].map((side) =>
      Number((side * Math.SQRT2 * Math.pow(10, -16 / 20)).toFixed(3)),
    ),
  );
  expect(workspace.state.history.past).toHaveLength(past.length + 1);
  workspace.mix.setPad(2, { levelDb: 99, pan: -7 });
  const kit = workspace.beat.parts[0]!;
  expect(kit.kind === "kit" && kit.pads[2]!.mix).toEqual({ levelDb: 12, pan: -1, roomDb: -60 });
  workspace.mix.setPad(99, { levelDb: 1 });
  expect(workspace.state.history.past).toHaveLength(past.length + 2);
});
