"use client";

import { LOOP_BARS } from "@/core/beat/new-beat";
import { useBeat, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** The loop's bars. A length that came with a file stands beside the usual ones until one of them is chosen. */
export function LoopLength() {
  const workspace = useWorkspace();
  const { meter } = useBeat();
  const { bars } = useOpenPattern();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const choices = [...new Set<number>([...LOOP_BARS, bars])].sort((a, b) => a - b);
  return (
    <div className={styles.group}>
      <span className={styles.caption}>
        Loop, bars of{" "}
        <span className="numerals">
          {meter.beats}/{meter.unit}
        </span>
      </span>
      <div className="btn-group" role="group" aria-label="Loop length">
        {choices.map((choice) => (
          <button
            key={choice}
            type="button"
            className="btn numerals"
            aria-label={choice === 1 ? "1 bar" : `${choice} bars`}
            aria-pressed={choice === bars}
            disabled={readOnly}
            onClick={() => workspace.setBars(choice)}
          >
            {choice}
          </button>
        ))}
      </div>
    </div>
  );
}
