import { openQueued } from "../state/workspace-state";
import { BEAT_MS, hitsOf, LAP_MS, msOf, patternsOf, session, takeTestTime } from "../../../tests/support/session";

takeTestTime();

describe("note repeat", () => {
  test("is recorded as hits on their lines, in their own grid, and sounds once a lap afterwards", () => {
    const { workspace, engine, goTo } = session();
    workspace.transport.toggleRecord();
    workspace.command("repeat 1/32", true, 0);
    goTo(990);
    workspace.strike({ lane: 8, velocity: 90, timeMs: 990, device: "keys" });
    goTo(1240);
    workspace.release({ lane: 8, timeMs: 1240, device: "keys" });
    workspace.command("repeat 1/32", false, 1250);
    goTo(LAP_MS + 100);
    expect(hitsOf(workspace).map(({ played: { ticks }, quantize }) => [ticks, quantize!.grid])).toEqual(
      [1920, 2040, 2160, 2280].map((line) => [line, "1/32"]),
    );
    const before = engine.heardFrames.length;
    goTo(2 * LAP_MS - 100);
    expect(engine.heardFrames.slice(before)).toEqual([1920, 2040, 2160, 2280].map((line) => 192_000 + line * 25));
  });

  test("latched it goes on without its key, follows pressure, and pads that are down join in", () => {
    const { workspace, engine, goTo } = session({ repeatLevel: "pressure" });
    workspace.transport.play();
    workspace.strike({ lane: 8, velocity: 90, timeMs: 0, device: "keys" });
    workspace.command("repeat 1/8", true, 10);
    workspace.repeat.toggleLatch();
    workspace.command("repeat 1/8", false, 20);
    expect(workspace.state.repeat).toEqual({ rate: "1/8", latched: true });
    const strokes: number[] = [];
    workspace.router.onStrike(({ velocity }) => strokes.push(velocity));
    goTo(600);
    workspace.press(8, 40);
    goTo(1100);
    expect(strokes).toEqual([90, 90, 90, 40, 40]);
    workspace.repeat.toggleLatch();
    goTo(2000);
    expect([strokes.length, engine.last("rate").stepTicks]).toEqual([5, 0]);
  });
});

describe("patterns and regions", () => {
  test("a run of ideas: the next empty pattern takes over at the loop's end and recording goes on in it", () => {
    const { workspace, engine, play, goTo } = session();
    workspace.transport.toggleRecord();
    play(0, 0.1);
    goTo(1000);
    workspace.command("nextPattern", true, 1000);
    expect(openQueued(workspace.state)).toMatchObject({ moment: "lap" });
    play(1, 2000);
    // Early on the new pattern's downbeat.
    play(2, LAP_MS - 30);
    play(3, LAP_MS + BEAT_MS);
    expect(patternsOf(workspace.beat).map(({ bars }) => bars)).toEqual([2, 2]);
    expect(hitsOf(workspace, 0).map(({ lane }) => lane)).toEqual([0, 1]);
    expect(hitsOf(workspace, 1).map(({ lane, played: { ticks } }) => [lane, Math.round(ticks)])).toEqual([
      [2, -58],
      [3, 960],
    ]);
    goTo(2 * LAP_MS - 60);
    const before = engine.heardFrames.length;
    goTo(3 * LAP_MS - 60);
    expect(msOf(engine.heardFrames.slice(before))).toEqual([2 * LAP_MS, 2 * LAP_MS + BEAT_MS]);
  });

  test("undo of the pattern that plays leads back to one that is there, and the loop goes on", () => {
    const { workspace, engine, play, goTo } = session({ switchAt: "now" });
    workspace.transport.toggleRecord();
    play(0, 0.1);
    workspace.transport.toggleRecord();
    goTo(500);
    workspace.patterns.nextEmpty();
    goTo(1000);
    expect(workspace.state.patternRef.patternId).toBe(patternsOf(workspace.beat)[1]!.id);
    workspace.document.undo();
    goTo(1100);
    expect(workspace.state.patternRef.patternId).toBe(patternsOf(workspace.beat)[0]!.id);
    expect(engine.table.patternId).toBe(workspace.state.patternRef.patternId);
    goTo(LAP_MS + 100);
    expect(engine.heardFrames.length).toBe(2);
  });

  test.each([
    ["long before it takes over", 3000, 0],
    ["as it takes over", 3995, 0],
    ["when the audio thread is there already", 3995, 12],
  ])("undo of the queued pattern, %s: the loop goes on, and what is played then is recorded", (_, undoMs, lateMs) => {
    const { workspace, engine, play, goTo } = session();
    workspace.transport.toggleRecord();
    play(0, 0.1);
    goTo(2000);
    workspace.patterns.nextEmpty();
    goTo(undoMs);
    if (lateMs > 0) engine.holdOrders();
    workspace.document.undo();
    goTo(undoMs + lateMs);
    engine.holdOrders(false);
    play(1, LAP_MS + BEAT_MS);
    expect(openQueued(workspace.state)).toBeUndefined();
    expect(engine.table.patternId).toBe(workspace.state.patternRef.patternId);
    expect(hitsOf(workspace).map(({ lane, played: { ticks } }) => [lane, Math.round(ticks)])).toEqual([
      [0, 0],
      [1, 960],
    ]);
    goTo(LAP_MS + BEAT_MS + 100);
    const before = engine.heardFrames.length;
    goTo(2 * LAP_MS + BEAT_MS + 100);
    expect(msOf(engine.heardFrames.slice(before))).toEqual([2 * LAP_MS, 2 * LAP_MS + BEAT_MS]);
  });

  test("places by number: stopped at once, empty ones say so, a called up pattern can be called back", () => {
    const { workspace, goTo } = session();
    workspace.patterns.duplicate();
    expect(workspace.state.patternRef.patternId).toBe(patternsOf(workspace.beat)[1]!.id);
    workspace.patterns.choose(0);
    expect(workspace.state.patternRef.patternId).toBe(patternsOf(workspace.beat)[0]!.id);
    workspace.patterns.choose(4);
    expect(workspace.state.notice).toMatch(/Place 5 is empty/);
    workspace.transport.play();
    goTo(100);
    workspace.patterns.choose(1);
    workspace.patterns.choose(0);
    goTo(2 * LAP_MS);
    expect(workspace.state.patternRef.patternId).toBe(patternsOf(workspace.beat)[0]!.id);
  });

  test("a region goes round and is recorded into; the pattern's length and the rest of it stay", () => {
    const { workspace, engine, play, goTo } = session();
    workspace.patterns.setRegion({ startTicks: 3840 as never, lengthTicks: 1920 as never });
    workspace.transport.toggleRecord();
    play(0, 10);
    play(1, 3 * 1000 + 510);
    play(2, 4 * 1000 - 20);
    expect(hitsOf(workspace).map(({ played: { ticks } }) => Math.round(ticks))).toEqual([3859, 4819, 3802]);
    goTo(5900);
    const before = engine.heardFrames.length;
    goTo(6900);
    expect(msOf(engine.heardFrames.slice(before))).toEqual([6000, 6500]);
    workspace.patterns.setRegion(undefined);
    goTo(7000);
    expect(engine.table.span).toEqual({ startTicks: 0, lengthTicks: 7680 });
    expect(patternsOf(workspace.beat)[0]!.bars).toBe(2);
  });

  test("the region's ends move from where they are now, stay apart, and all of the pattern is no region", () => {
    const { workspace } = session();
    const region = () => Object.values(workspace.state.regions);
    workspace.patterns.moveEdge("start", 960);
    workspace.patterns.moveEdge("start", 960);
    workspace.patterns.moveEdge("end", -960);
    expect(region()).toEqual([{ startTicks: 1920, lengthTicks: 4800 }]);
    for (let step = 0; step < 9; step++) workspace.patterns.moveEdge("start", 960);
    expect(region()).toEqual([{ startTicks: 5760, lengthTicks: 960 }]);
    for (let step = 0; step < 9; step++) workspace.patterns.moveEdge("end", -960);
    expect(region()).toEqual([{ startTicks: 5760, lengthTicks: 960 }]);
    workspace.patterns.loopBetween(9000, 12_000);
    expect(region()).toEqual([{ startTicks: 5760, lengthTicks: 960 }]);
    for (let step = 0; step < 9; step++) {
      workspace.patterns.moveEdge("start", -960);
      workspace.patterns.moveEdge("end", 960);
    }
    expect(region()).toEqual([]);
  });
});
