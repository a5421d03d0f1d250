import { GRID_NAMES } from "@/core/time/grid";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import { hitsOf, passesOf, patternsOf, session, takeTestTime } from "../../../tests/support/session";

takeTestTime();

const pattern = (workspace: ReturnType<typeof session>["workspace"]) => patternsOf(workspace.beat)[0]!;

/** Sixteenths' off-beats, a little late, over one lap. */
function recorded() {
  const made = session();
  made.workspace.transport.toggleRecord();
  for (const [index, ms] of [10, 130, 260, 385, 505].entries()) made.play(index % 2, ms);
  made.workspace.transport.toggleRecord();
  return made;
}

test("a step through grooves or grids is one step of undo, and the engine has it at once", () => {
  const { workspace, engine, goTo } = recorded();
  goTo(600);
  const before = engine.table.ticks;
  workspace.timing.stepGroove(1);
  workspace.timing.stepGroove(1);
  goTo(700);
  expect(pattern(workspace).groove?.groove.name).toBe(BUILT_IN_GROOVES[1]!.name);
  expect(engine.table.ticks).not.toEqual(before);
  workspace.timing.stepGroove(-1);
  workspace.timing.stepGroove(-1);
  expect(pattern(workspace).groove).toBeUndefined();
  workspace.timing.stepGroove(-1);
  expect(pattern(workspace).groove?.groove.name).toBe(BUILT_IN_GROOVES.at(-1)!.name);
  workspace.document.undo();
  expect(pattern(workspace).groove).toBeUndefined();
  workspace.timing.stepGrid(1);
  expect(workspace.beat.inputQuantize.grid).toBe(GRID_NAMES[GRID_NAMES.indexOf("1/16") + 1]);
  workspace.timing.setScope({ kind: "pass", passId: passesOf(workspace)[0]!.id });
  workspace.timing.stepGrid(-1);
  expect(passesOf(workspace)[0]!.quantize.grid).toBe("1/8");
  expect(workspace.beat.inputQuantize.grid).toBe("1/32");
});

test("a pad and selected hits get settings of their own, in any order, and nothing changes what was played", () => {
  const { workspace } = recorded();
  const played = hitsOf(workspace).map(({ played: { ticks } }) => ticks);
  workspace.timing.setScope({ kind: "pad", pad: 1 });
  workspace.timing.setQuantize({ strength: 0.5 });
  const chosen = hitsOf(workspace)[1]!.id;
  workspace.lanes.select([chosen]);
  expect(workspace.state.timingScope).toEqual({ kind: "selected" });
  workspace.timing.setQuantize({ grid: "1/8T", mix: ["1/16"], adaptive: true });
  expect(hitsOf(workspace).map(({ quantize }) => quantize && [quantize.grid, quantize.strength, quantize.mix])).toEqual(
    [undefined, ["1/8T", 0.5, ["1/16"]], undefined, ["1/16", 0.5, undefined], undefined],
  );
  expect(workspace.timing.settings).toMatchObject({ grid: "1/8T", adaptive: true });
  workspace.timing.setScope({ kind: "all" });
  workspace.timing.setQuantize({ reach: 0.25 });
  expect(passesOf(workspace)[0]!.quantize.reach).toBe(0.25);
  workspace.lanes.select([]);
  expect(workspace.state.timingScope).toEqual({ kind: "all" });
  expect(hitsOf(workspace).map(({ played: { ticks } }) => ticks)).toEqual(played);
});

test("what is listened to changes the sound and not the beat; going into record brings all of it back", () => {
  const { workspace, engine, goTo } = recorded();
  workspace.timing.setFeel(() => ({ swing: { ratio: 0.6, unit: "1/16" } }), "Swing");
  const ticks = () => {
    goTo(performance.now() + 100);
    return [...engine.table.ticks].map((at) => Math.round(at)).sort((a, b) => a - b);
  };
  const { beat } = workspace;
  expect(ticks()).toEqual([0, 288, 480, 768, 960]);
  workspace.timing.listenTo("corrected");
  expect(ticks()).toEqual([0, 240, 480, 720, 960]);
  workspace.timing.toggleAsPlayed();
  expect(ticks().some((at) => at % 240 !== 0)).toBe(true);
  expect(workspace.beat).toBe(beat);
  workspace.transport.toggleRecord();
  expect(workspace.state.timingView).toBe("grooved");
  expect(ticks()).toEqual([0, 288, 480, 768, 960]);
});

test("what is recorded while the swing is not heard is taken as it is", () => {
  const { workspace, play } = session();
  workspace.timing.setFeel(() => ({ swing: { ratio: 0.75, unit: "1/16" } }), "Swing");
  workspace.transport.toggleRecord();
  workspace.timing.listenTo("corrected");
  play(0, 130);
  const [straight] = hitsOf(workspace);
  expect(straight!.played.straightTicks).toBeUndefined();
  expect(Math.round(straight!.played.ticks)).toBe(250);
});

test("what is recorded over a swing keeps its straight place; note repeat is written where it was heard", () => {
  const { workspace, play, goTo } = session();
  workspace.timing.setFeel(() => ({ swing: { ratio: 0.75, unit: "1/16" } }), "Swing");
  workspace.transport.toggleRecord();
  // 0.75 of two sixteenths at 120 BPM: 187.5 ms, nearer to the next straight line than to its own.
  play(0, 190);
  const [swung] = hitsOf(workspace);
  expect(swung!.played.straightTicks!).toBeGreaterThan(200);
  expect(swung!.played.straightTicks!).toBeLessThan(260);
  workspace.command("repeat 1/16", true, 400);
  goTo(450);
  workspace.strike({ lane: 3, velocity: 90, timeMs: 450, device: "keys" });
  goTo(800);
  workspace.release({ lane: 3, timeMs: 800, device: "keys" });
  const repeats = hitsOf(workspace).filter(({ lane }) => lane === 3);
  expect(repeats.length).toBeGreaterThan(1);
  for (const {
    played: { ticks: playedTicks, straightTicks },
  } of repeats) {
    expect(straightTicks! % 240).toBe(0);
    expect(playedTicks - straightTicks!).toBeCloseTo(straightTicks! % 480 === 0 ? 0 : 120, 6);
  }
});

test("grooves of one's own get names that are free; a pattern keeps what it has", () => {
  const { workspace } = recorded();
  workspace.timing.grooveFrom({ kind: "pattern" }, "Mine", "1/16", 1);
  workspace.timing.grooveFrom({ kind: "pattern" }, "Mine", "1/8", 1);
  expect(workspace.state.grooves.map(({ name }) => name)).toEqual(["Mine", "Mine 2"]);
  // Making is not applying: on its own source it would move everything once more.
  expect(pattern(workspace).groove).toBeUndefined();
  workspace.timing.setGroove(workspace.state.grooves[1]);
  expect(pattern(workspace).groove?.groove.name).toBe("Mine 2");
  workspace.timing.renameGroove(workspace.state.grooves[1]!, "Ripple");
  expect(pattern(workspace).groove?.groove.name).toBe("Ripple 2");
  workspace.timing.removeGroove(workspace.state.grooves[0]!);
  expect(workspace.state.grooves.map(({ name }) => name)).toEqual(["Ripple 2"]);
  workspace.timing.removeGroove(workspace.state.grooves[0]!);
  expect(pattern(workspace).groove?.groove.name).toBe("Ripple 2");
});

test("keep says what it did and counts on; return goes to the last one, and without one to what was played", () => {
  const { workspace } = session();
  workspace.timing.keep();
  expect(workspace.state.notice).toBe("There is no hit yet to keep.");
  const { workspace: full } = recorded();
  full.timing.return();
  expect(passesOf(full)[0]!.quantize.grid).toBe("off");
  full.document.undo();
  full.timing.keep();
  full.timing.keep();
  expect(pattern(full).points!.map(({ name }) => name)).toEqual(["Kept 1", "Kept 2"]);
  full.timing.setFeel(() => ({ swing: { ratio: 0.7, unit: "1/8" } }), "Swing");
  full.timing.return();
  expect(pattern(full).swing).toBeUndefined();
});

test("the lanes look closer in steps down to a beat, along, and back to all", () => {
  const { workspace } = recorded();
  const shown = () => workspace.state.zoom && [workspace.state.zoom.startTicks, workspace.state.zoom.lengthTicks];
  workspace.lanes.zoom(true);
  expect(shown()).toEqual([0, 3840]);
  workspace.lanes.pan(0.5);
  expect(shown()).toEqual([1920, 3840]);
  workspace.lanes.pan(5);
  expect(shown()).toEqual([3840, 3840]);
  for (let step = 0; step < 5; step++) workspace.lanes.zoom(true);
  expect(shown()![1]).toBe(960);
  for (let step = 0; step < 5; step++) workspace.lanes.zoom(false);
  expect(shown()).toBeUndefined();
  workspace.lanes.pan(1);
  expect(shown()).toBeUndefined();
  // Two turns of a wheel count twice, around the place that is pointed at.
  workspace.lanes.zoomAt(0.5, 0.5);
  workspace.lanes.zoomAt(0.5, 0.5);
  expect(shown()).toEqual([2880, 1920]);
});
