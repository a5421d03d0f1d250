"use client";

import { setNames } from "@/store/engine/sound-loader";
import { useRef, useState } from "react";
import { useOfBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** The beat's name, changed in place, and whether all is kept. */
export function BeatName() {
  const workspace = useWorkspace();
  const name = useOfBeat(({ name }) => name);
  const [typed, setTyped] = useState<string>();
  const dropped = useRef(false);
  const saveState = useWorkspaceState((state) => state.saveState);
  const progress = useWorkspaceState((state) => state.soundProgress);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const recording = useWorkspaceState(({ transport }) => transport.running && transport.writing === "record");
  const saved = readOnly
    ? "Open elsewhere, read only"
    : recording
      ? "Recording…"
      : { saved: "Saved in this browser", saving: "Saving…", memory: "Not saved: in memory only" }[saveState];
  return (
    <>
      <h1 className="visually-hidden">{name}</h1>
      <input
        className={styles.name}
        aria-label="Name of the beat"
        maxLength={120}
        disabled={readOnly}
        value={typed ?? name}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={() => {
          if (typed !== undefined && !dropped.current) workspace.document.rename(typed);
          dropped.current = false;
          setTyped(undefined);
        }}
        onKeyDown={(event) => {
          dropped.current = event.key === "Escape";
          if (event.key === "Enter" || event.key === "Escape") event.currentTarget.blur();
        }}
      />
      <span className={styles.saved} {...(progress && { role: "status" })}>
        {progress ? `Making ${setNames(progress.sets)}… ${progress.made}/${progress.of}` : saved}
      </span>
    </>
  );
}
