"use client";

import { MONITORINGS, type Monitoring } from "@/core/timing/heard-hit";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";

const WORDS: Readonly<Record<Monitoring, readonly [name: string, key: string]>> = {
  played: ["Played", ";"],
  corrected: ["Corrected", "'"],
  grooved: ["Grooved", "\\"],
};

/** What is heard and shown: all of the timing, or less of it, to compare. */
export function MonitoringChoice() {
  const workspace = useWorkspace();
  const monitoring = useWorkspaceState((state) => state.monitoring);
  return (
    <div className={styles.hearing} role="group" aria-label="Hear">
      {MONITORINGS.toReversed().map((name) => (
        <button
          key={name}
          type="button"
          className="btn btn-sm"
          aria-pressed={name === monitoring}
          onClick={() => workspace.timing.listenTo(name)}
        >
          {WORDS[name][0]} <kbd aria-hidden>{WORDS[name][1]}</kbd>
        </button>
      ))}
    </div>
  );
}
