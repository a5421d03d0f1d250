import type { Ticks } from "@/core/time/ticks";
import { session, takeTestTime } from "../../../tests/support/session";

takeTestTime();

/** A hit was written into the first pattern of the kit, and then one gone elsewhere. */
function elsewhere() {
  const made = session();
  const { workspace } = made;
  const kit = workspace.state.patternRef;
  workspace.hits.write(1, 2400 as Ticks, "");
  return { ...made, kit };
}

test("undo and redo go to the part in which something happened, and mark what came", () => {
  const { workspace, kit } = elsewhere();
  expect(workspace.state.history.past.at(-1)!.label).toBe("Write Snare on 1.3.480");
  workspace.parts.addVoice("cabin");
  workspace.setTempo(90);
  workspace.document.undo();
  workspace.document.undo();
  expect(workspace.state).toMatchObject({ patternRef: kit, marked: [] });
  workspace.document.undo();
  expect(workspace.state.notice).toBe("Undone: Write Snare on 1.3.480");
  workspace.document.redo();
  workspace.document.redo();
  const [bass] = workspace.beat.parts.slice(1);
  workspace.patterns.openPart(bass!.id);
  workspace.document.undo();
  workspace.document.undo();
  workspace.document.redo();
  expect(workspace.state).toMatchObject({ patternRef: kit, notice: "Redone: Write Snare on 1.3.480" });
  expect(workspace.state.marked).toHaveLength(1);
  workspace.setTempo(91);
  expect(workspace.state.marked).toEqual([]);
  workspace.parts.addVoice("fog");
  workspace.parts.rename(kit.partId, "Deck");
  expect(workspace.state.patternRef).not.toEqual(kit);
  workspace.document.undo();
  expect(workspace.state).toMatchObject({ patternRef: kit, notice: "Undone: Rename part" });
});

test("at rest its pattern is opened", () => {
  const { workspace, kit } = elsewhere();
  workspace.patterns.nextEmpty();
  workspace.setTempo(90);
  expect(workspace.state.patternRef).not.toEqual(kit);
  workspace.document.undo();
  workspace.document.undo();
  workspace.document.undo();
  expect(workspace.state.patternRef).toEqual(kit);
});

test("while the loop runs nothing that is played or written into changes, and the words say where it was", () => {
  const { workspace, kit } = elsewhere();
  workspace.parts.addVoice("cabin");
  const { patternRef } = workspace.state;
  workspace.setTempo(90);
  workspace.parts.rename(kit.partId, "Deck");
  workspace.transport.play();
  workspace.document.undo();
  expect(workspace.state).toMatchObject({ patternRef, notice: "Undone: Rename part, in Pattern 1 of Kit" });
});
