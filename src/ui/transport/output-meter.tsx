"use client";

import { LevelBar } from "../common/level-bar";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** Peak of both sides, with a warning that stays, once the limiter had to work, until it is looked at in the mix. */
export function OutputMeter() {
  const workspace = useWorkspace();
  const tooLoud = useWorkspaceState((state) => state.clip !== undefined);
  const latencyMs = useWorkspaceState((state) => state.outputLatencyMs);
  return (
    <div className={styles.meter} role="group" aria-label="Output">
      <span className={styles.bars}>
        <LevelBar peakOf={({ peakLeft }) => peakLeft} className={styles.bar} />
        <LevelBar peakOf={({ peakRight }) => peakRight} className={styles.bar} />
      </span>
      {tooLoud ? (
        <button
          type="button"
          className={styles.clipped}
          title="The mix says what was, and how to cure it"
          onClick={() => workspace.showView("mix")}
        >
          Too loud
        </button>
      ) : (
        <span className="numerals" title="Output delay; hits are placed where you heard them">
          {latencyMs.toFixed(0)} ms
        </span>
      )}
    </div>
  );
}
