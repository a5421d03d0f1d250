"use client";

import { HEARINGS, type Hearing } from "@/core/timing/heard";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";

const WORDS: Readonly<Record<Hearing, readonly [name: string, key: string]>> = {
  played: ["Played", ";"],
  corrected: ["Corrected", "'"],
  grooved: ["Grooved", "\\"],
};

/** What is heard and shown: all of the timing, or less of it, to compare. */
export function HearingChoice() {
  const workspace = useWorkspace();
  const hearing = useWorkspaceState((state) => state.hearing);
  return (
    <div className={styles.hearing} role="group" aria-label="Hear">
      {HEARINGS.toReversed().map((name) => (
        <button
          key={name}
          type="button"
          className="btn btn-sm"
          aria-pressed={name === hearing}
          onClick={() => workspace.timing.listenTo(name)}
        >
          {WORDS[name][0]} <kbd aria-hidden>{WORDS[name][1]}</kbd>
        </button>
      ))}
    </div>
  );
}
