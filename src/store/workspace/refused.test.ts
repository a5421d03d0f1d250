import type { Ticks } from "@/core/time/ticks";
import { addHits, addPass } from "@/core/beat/edit";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { keepTiming } from "@/core/timing/keep-timing";
import { newRepository } from "../../../tests/support/open-workspace";
import { session, takeTestTime } from "../../../tests/support/session";
import { READ_ONLY_NOTICES } from "../document/beat-document";
import type { Workspace } from "./workspace";

takeTestTime();

const EDITS: Readonly<Record<string, (workspace: Workspace) => void>> = {
  "keep timing": ({ timing }) => timing.keep(),
  "return to a kept timing": ({ timing }) => timing.return(),
  "return to played": ({ timing }) => timing.returnToPlayed(),
  "the next grid": ({ timing }) => timing.stepGrid(1),
  "the next groove": ({ timing }) => timing.stepGroove(1),
  "a pattern": ({ patterns }) => patterns.nextEmpty(),
  "a pattern twice": ({ patterns }) => patterns.duplicate(),
  "a part twice": ({ parts, state }) => parts.duplicate(state.patternRef.partId),
  delete: ({ hits }) => hits.remove(),
  "repeat hits": ({ hits }) => hits.repeat(),
  undo: ({ document }) => document.undo(),
  redo: ({ document }) => document.redo(),
  rename: ({ document }) => document.rename("Other"),
};

test.each(Object.keys(EDITS))(
  "%s in a tab that may only play: nothing changes, and why is said, nothing else",
  (name) => {
    const empty = newBeat({ id: "b", name: "B", bpm: 120 });
    const patternRef = firstPlace(empty);
    const { beat, passId } = addPass(empty, patternRef, {
      name: "P",
      muted: false,
      quantize: { grid: "1/16", strength: 1, reach: 1 },
    });
    const hit = { lane: 2, played: { ticks: 250 as Ticks, velocity: 90 }, lengthTicks: 60 as Ticks };
    const kept = keepTiming(addHits(beat, patternRef, passId, [hit]), patternRef, "Kept 1");
    const { workspace } = session({}, 0, { beat: kept, repository: newRepository(), atMs: 0 });
    workspace.document.rename("One");
    workspace.document.rename("Two");
    workspace.document.undo();
    workspace.lanes.selectAll();
    workspace.store.setState({ readOnly: true, editorState: "elsewhere", notice: "" });
    const { beat: before, state } = workspace;
    EDITS[name]!(workspace);
    expect(workspace.state.notice).toBe(READ_ONLY_NOTICES.elsewhere);
    expect(workspace.beat).toBe(before);
    expect(workspace.state.patternRef).toEqual(state.patternRef);
  },
);
