"use client";

import { useShallow } from "zustand/shallow";
import { MEMORY_TEXT } from "./memory-text";
import { useWorkspace, useWorkspaceState } from "./use-workspace";
import styles from "./workspace.module.scss";

/** What the player has to know before playing on; nothing when all is well. */
export function Banners() {
  const workspace = useWorkspace();
  const { sound, readOnly, memoryReason, lostPass, notice } = useWorkspaceState(
    useShallow(({ sound, readOnly, memoryReason, lostPass, notice }) => ({
      sound,
      readOnly,
      memoryReason,
      lostPass,
      notice,
    })),
  );
  const hits = lostPass?.pass.hits.length ?? 0;
  return (
    <div className={styles.banners} role="status">
      {sound === "waiting" && <p>Sound is off until you press a key or click: the browser asks for it.</p>}
      {sound === "failed" && <p>This browser gives no sound. Everything else works, and export too.</p>}
      {readOnly && <p>This beat is open in another tab. Here it can be played, not changed.</p>}
      {memoryReason && <p>{MEMORY_TEXT[memoryReason]}</p>}
      {lostPass && (
        <p>
          A pass was being recorded when the page went away: {hits} {hits === 1 ? "hit" : "hits"}.
          <button type="button" className="btn btn-sm" onClick={() => workspace.takeLostPass()}>
            Bring it back
          </button>
          <button type="button" className="btn btn-sm" onClick={() => workspace.dropLostPass()}>
            Let it go
          </button>
        </p>
      )}
      <span className={notice ? styles.notice : "visually-hidden"}>{notice}</span>
    </div>
  );
}
