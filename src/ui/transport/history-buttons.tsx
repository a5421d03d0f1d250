"use client";

import { ArrowClockwise } from "../icons/generated/arrow-clockwise";
import { ArrowCounterclockwise } from "../icons/generated/arrow-counterclockwise";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";

/** Undo and redo, with what they would undo and how far they reach. */
export function HistoryButtons() {
  const workspace = useWorkspace();
  const past = useWorkspaceState(({ history }) => history.past.at(-1)?.label);
  const future = useWorkspaceState(({ history }) => history.future[0]?.label);
  return (
    <>
      <button
        type="button"
        className="btn"
        aria-label="Undo"
        title={past ? `Undo: ${past} (History lists all steps)` : "Nothing to undo"}
        disabled={!past}
        onClick={() => workspace.document.undo()}
      >
        <ArrowCounterclockwise aria-hidden />
      </button>
      <button
        type="button"
        className="btn"
        aria-label="Redo"
        title={future ? `Redo: ${future}` : "Nothing to redo"}
        disabled={!future}
        onClick={() => workspace.document.redo()}
      >
        <ArrowClockwise aria-hidden />
      </button>
    </>
  );
}
