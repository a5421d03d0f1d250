"use client";

import { useKeyName } from "../common/use-key-name";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";
import { useAdvice } from "./use-advice";
import { useScopedQuantize } from "./use-timing";

/** Which grid the playing fits, in a sentence, and the way to follow it. */
export default function AdviceLine() {
  const workspace = useWorkspace();
  const { words: adviceKey } = useKeyName("advice");
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const { grid } = useScopedQuantize();
  const advice = useAdvice();
  if (!advice) return null;
  const follows = grid === advice.grid;
  return (
    <p className={styles.advice}>
      <span>{advice.sentence}</span>
      {!follows && (
        <button
          type="button"
          className="btn btn-sm"
          disabled={readOnly}
          title={`Takes the grid that the playing fits (${adviceKey})`}
          onClick={() => workspace.timing.setQuantize({ grid: advice.grid, mix: [] })}
        >
          Take {advice.grid}
        </button>
      )}
    </p>
  );
}
