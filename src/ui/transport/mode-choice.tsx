"use client";

import { RECORD_MODES, type RecordMode } from "@/core/record/record-stroke";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

const MODES: Readonly<Record<RecordMode, { readonly name: string; readonly description: string }>> = {
  overdub: { name: "Overdub", description: "Hits are added; nothing is ever lost" },
  replace: { name: "Replace", description: "Pads struck in a lap lose what they had" },
  takes: { name: "Takes", description: "Every lap is a take of its own; the newest sounds" },
};

/** What a recorded hit does to what is there. Always in sight. */
export function ModeChoice() {
  const workspace = useWorkspace();
  const mode = useWorkspaceState((state) => state.mode);
  return (
    <div className={styles.modes} role="group" aria-label="Record mode">
      {RECORD_MODES.map((choice) => (
        <button
          key={choice}
          type="button"
          className="btn"
          aria-pressed={choice === mode}
          title={MODES[choice].description}
          onClick={() => workspace.transport.setMode(choice)}
        >
          {MODES[choice].name}
        </button>
      ))}
    </div>
  );
}
