"use client";

import { TIMING_VIEWS, type TimingView } from "@/core/timing/resolved-hit";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";

const WORDS: Readonly<Record<TimingView, readonly [name: string, key: string]>> = {
  played: ["Played", ";"],
  corrected: ["Corrected", "'"],
  grooved: ["Grooved", "\\"],
};

/** What is heard and shown: all of the timing, or less of it, to compare. */
export function TimingViewChoice() {
  const workspace = useWorkspace();
  const timingView = useWorkspaceState((state) => state.timingView);
  return (
    <div className={styles.hearing} role="group" aria-label="Hear">
      {TIMING_VIEWS.toReversed().map((name) => (
        <button
          key={name}
          type="button"
          className="btn btn-sm"
          aria-pressed={name === timingView}
          onClick={() => workspace.timing.listenTo(name)}
        >
          {WORDS[name][0]} <kbd aria-hidden>{WORDS[name][1]}</kbd>
        </button>
      ))}
    </div>
  );
}
