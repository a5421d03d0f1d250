"use client";

import { wordsOfTake } from "@/store/timing/words-of-take";
import { useKeyName } from "../common/use-key-name";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";
import { useAdvice } from "./use-advice";

/** Which grid the playing fits, in a sentence, and the way to follow it. */
export default function AdviceLine() {
  const workspace = useWorkspace();
  const { words: adviceKey } = useKeyName("advice");
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const advice = useAdvice();
  if (!advice) return null;
  return (
    <p className={styles.advice}>
      <span>
        {advice.pass !== undefined && `“${advice.pass}”: `}
        {advice.sentence}
      </span>
      {advice.take && (
        <button
          type="button"
          className="btn btn-sm"
          disabled={readOnly}
          title={`Corrects ${advice.pass === undefined ? "these hits" : `“${advice.pass}”`} by the grid it was played on${advice.take.swing ? ", and swings the whole pattern" : ""}; one undo (${adviceKey})`}
          onClick={() => void workspace.timing.takeAdvice()}
        >
          Take {wordsOfTake(advice.take)}
        </button>
      )}
    </p>
  );
}
