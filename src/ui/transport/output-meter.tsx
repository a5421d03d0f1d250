"use client";

import { LevelBar } from "../common/level-bar";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** Peak of both sides, with a warning that stays once the limiter had to work. */
export function OutputMeter() {
  const workspace = useWorkspace();
  const limitedOnce = useWorkspaceState((state) => state.limitedOnce);
  const latencyMs = useWorkspaceState((state) => state.outputLatencyMs);
  return (
    <div className={styles.meter} role="group" aria-label="Output">
      <span className={styles.bars}>
        <LevelBar peakOf={({ peakLeft }) => peakLeft} className={styles.bar} />
        <LevelBar peakOf={({ peakRight }) => peakRight} className={styles.bar} />
      </span>
      {limitedOnce ? (
        <button type="button" className={styles.clipped} onClick={() => workspace.forgetLimited()}>
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
