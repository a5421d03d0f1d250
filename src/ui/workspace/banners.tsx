"use client";

import { useShallow } from "zustand/shallow";
import { MEMORY_TEXT } from "./memory-text";
import { useWorkspace, useWorkspaceState } from "./use-workspace";
import styles from "./workspace.module.scss";

/** What the player has to know before playing on; nothing when all is well. */
export function Banners() {
  const workspace = useWorkspace();
  const { sound, readOnly, memoryReason, lostPass, notice, tapped, lost } = useWorkspaceState(
    useShallow(({ sound, readOnly, memoryReason, lostPass, notice, tapped, midi: { lost } }) => ({
      sound,
      readOnly,
      memoryReason,
      lostPass,
      notice,
      tapped,
      lost,
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
          <button type="button" className="btn btn-sm" onClick={() => workspace.document.takeLostPass()}>
            Bring it back
          </button>
          <button type="button" className="btn btn-sm" onClick={() => workspace.document.dropLostPass()}>
            Let it go
          </button>
        </p>
      )}
      {lost && (
        <p>
          “{lost}” is not plugged in any more. What was played on it is kept; plug it in again and go on.
          <button type="button" className="btn btn-sm" onClick={() => workspace.devices.readLost()}>
            All right
          </button>
        </p>
      )}
      {tapped && (
        <p>
          <span>
            Tapped <b className="numerals">{tapped.bpm.toFixed(1)}</b> BPM{" "}
            <span className="numerals">± {tapped.spreadBpm.toFixed(1)}</span>, {tapped.taps} taps. Stop tapping and the
            click answers.
          </span>
          <button type="button" className="btn btn-sm btn-primary" onClick={() => workspace.tempoTap.take()}>
            Take it (Shift .)
          </button>
          <button type="button" className="btn btn-sm" onClick={() => workspace.tempoTap.drop()}>
            Drop (Esc)
          </button>
        </p>
      )}
      <span className={notice ? styles.notice : "visually-hidden"}>{notice}</span>
    </div>
  );
}
