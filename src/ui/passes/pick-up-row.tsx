"use client";

import { X } from "../icons/generated/x";
import { useKeyName } from "../common/use-key-name";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./passes.module.scss";

/** What was played before the first downbeat waits here until the player wants it, or not. */
export function PickUpRow() {
  const workspace = useWorkspace();
  const { words, shortcuts } = useKeyName("pickUp");
  const count = useWorkspaceState(({ pickUp, patternRef }) =>
    pickUp?.patternRef.patternId === patternRef.patternId ? pickUp.hits.length : 0,
  );
  if (count === 0) return null;
  return (
    <div className={styles.pickUp} role="group" aria-label="Pick-up">
      <span>
        <b className="numerals">{count}</b> {count === 1 ? "hit" : "hits"} before beat 1
      </span>
      <button
        type="button"
        className="btn btn-sm"
        title={`They lead into every lap (${words})`}
        aria-keyshortcuts={shortcuts}
        onClick={() => workspace.recorder.takePickUp()}
      >
        Bring in
      </button>
      <button
        type="button"
        className="btn btn-sm"
        aria-label="Leave the pick-up out"
        onClick={() => workspace.recorder.dropPickUp()}
      >
        <X aria-hidden />
      </button>
    </div>
  );
}
