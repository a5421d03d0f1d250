"use client";

import { useState } from "react";
import { useBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** The beat's name, changed in place, and whether all is kept. */
export function BeatName() {
  const workspace = useWorkspace();
  const { name } = useBeat();
  const [typed, setTyped] = useState<string>();
  const saveState = useWorkspaceState((state) => state.saveState);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const recording = useWorkspaceState(({ transport }) => transport.running && transport.writing === "record");
  const saved = readOnly
    ? "Open elsewhere, read only"
    : recording
      ? "Recording…"
      : { saved: "Saved in this browser", saving: "Saving…", memory: "Not saved: in memory only" }[saveState];
  return (
    <>
      <input
        className={styles.name}
        aria-label="Name of the beat"
        maxLength={120}
        disabled={readOnly}
        value={typed ?? name}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={() => {
          if (typed !== undefined) workspace.rename(typed);
          setTyped(undefined);
        }}
        onKeyDown={(event) => {
          if (event.key === "Escape") setTyped(undefined);
          if (event.key === "Enter") event.currentTarget.blur();
        }}
      />
      <span className={styles.saved}>{saved}</span>
    </>
  );
}
