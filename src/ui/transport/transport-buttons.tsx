"use client";

import { CircleFill, PlayFill, StopFill } from "react-bootstrap-icons";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

export function TransportButtons() {
  const workspace = useWorkspace();
  const running = useWorkspaceState(({ transport }) => transport.running);
  const recording = useWorkspaceState(({ transport }) => transport.recording);
  const noSound = useWorkspaceState(({ sound }) => sound === "loading" || sound === "failed");
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <div className={styles.buttons} role="group" aria-label="Transport">
      <button
        type="button"
        className={`btn ${styles.transport}`}
        aria-pressed={running}
        disabled={noSound}
        onClick={() => workspace.play()}
      >
        <PlayFill aria-hidden />
        Play
      </button>
      <button type="button" className={`btn ${styles.transport}`} disabled={!running} onClick={() => workspace.stop()}>
        <StopFill aria-hidden />
        Stop
      </button>
      <button
        type="button"
        className={`btn ${styles.transport} ${styles.record}`}
        aria-pressed={recording}
        disabled={noSound || readOnly}
        onClick={() => workspace.toggleRecord()}
      >
        <CircleFill aria-hidden />
        Record
      </button>
    </div>
  );
}
