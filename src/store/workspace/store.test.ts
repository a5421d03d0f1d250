import { padsOf } from "@/core/beat/lanes";
import { newRepository, openWorkspace, strike } from "../../../tests/support/open-workspace";
import { until } from "../../../tests/support/until";
import type { Workspace } from "./workspace";

const passesOf = (workspace: Workspace) => workspace.beat.parts[0]!.patterns[0]!.passes;

describe("recording", () => {
  test("a hit is heard at once, written where it was audible, and played back from the next lap on", async () => {
    const { workspace, engine } = openWorkspace();
    workspace.transport.toggleRecord();
    strike(workspace, 0, 1000); // in the count-in
    strike(workspace, 0, 1920 + 5);
    strike(workspace, 1, 1920 + 480 - 10);
    workspace.release({ lane: 1, timeMs: 1920 + 480 + 90, device: "keys" });
    expect(engine.hits).toEqual([0, 0, 1]);
    // Strokes that follow each other reach the audio thread together, and how long pads were held is written at leisure.
    await until(() => engine.table.ticks.length === 2 && passesOf(workspace)[0]!.hits[1]!.lengthTicks > 190);
    expect(
      passesOf(workspace)[0]!.hits.map(({ played: { ticks }, lengthTicks }) => [ticks, lengthTicks].map(Math.round)),
    ).toEqual([
      [10, 60],
      [940, 200],
    ]);
    expect([...engine.table.ticks]).toEqual([0, 960]);
    expect([...engine.table.fromLaps]).toEqual([1, 1]);
    expect(engine.table.segment).toBe(1);
  });

  test("what is played while only playing sounds and is not written", () => {
    const { workspace, engine } = openWorkspace();
    workspace.transport.play();
    strike(workspace, 4, 100);
    expect(engine.hits).toEqual([4]);
    expect(passesOf(workspace)).toEqual([]);
    expect(workspace.state.history.past).toEqual([]);
  });

  test("a pass is one step of undo, also while it is being recorded, and other edits keep their own", () => {
    const { workspace } = openWorkspace();
    workspace.transport.toggleRecord();
    strike(workspace, 0, 2000);
    strike(workspace, 0, 2500);
    workspace.setPad(0, { muted: true });
    strike(workspace, 0, 3000);
    workspace.document.undo();
    expect(passesOf(workspace)[0]!.hits).toHaveLength(2);
    expect(padsOf(workspace.beat.parts[0]!)[0]!.muted).toBe(true);
    workspace.document.undo();
    workspace.document.undo();
    expect(passesOf(workspace)).toEqual([]);
    strike(workspace, 2, 3500);
    expect(passesOf(workspace).map(({ hits }) => hits.length)).toEqual([1]);
  });

  test("the click sounds in record, or always, or not", () => {
    const { workspace, engine } = openWorkspace();
    workspace.transport.toggleRecord();
    strike(workspace, 0, 2000);
    workspace.transport.stop();
    workspace.transport.play();
    expect(engine.click.on).toBe(false);
    workspace.setSettings({ clickWhen: "always" });
    expect(engine.click.on).toBe(true);
    workspace.setSettings({ clickWhen: "recording" });
    workspace.transport.toggleRecord();
    expect(engine.click.on).toBe(true);
    workspace.setSettings({ clickOn: false });
    expect(engine.click.on).toBe(false);
  });

  test("a reader can play and not write", () => {
    const { workspace } = openWorkspace(newRepository(), { editorState: "elsewhere" });
    workspace.transport.toggleRecord();
    workspace.setTempo(150);
    workspace.document.rename("Other");
    expect(workspace.state.transport.running).toBe(false);
    expect([workspace.beat.bpm, workspace.beat.name]).toEqual([125, "B"]);
    expect(workspace.state.notice).toMatch(/open in another tab/);
  });
});
