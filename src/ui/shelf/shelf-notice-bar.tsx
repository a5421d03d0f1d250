"use client";

import type { ShelfNotice } from "@/store/shelf/shelf";
import styles from "./shelf.module.scss";

const LINES = 8;

/** What was just done, with the way back; it stays until it is read. */
export function ShelfNoticeBar({ notice, onDismiss }: { readonly notice: ShelfNotice | undefined; onDismiss(): void }) {
  return (
    <div className={styles.noticePlace} role={notice?.kind === "refused" ? "alert" : "status"}>
      {notice && (
        <div className={`${styles.notice} ${notice.kind === "refused" ? styles.refused : ""}`}>
          <div>
            <strong>{notice.title}</strong>
            {notice.details.length > 0 && (
              <ul>
                {notice.details.slice(0, LINES).map((line, index) => (
                  <li key={index}>{line}</li>
                ))}
                {notice.details.length > LINES && <li>And {notice.details.length - LINES} more.</li>}
              </ul>
            )}
          </div>
          {notice.undo && (
            <button type="button" className="btn" onClick={notice.undo}>
              Undo
            </button>
          )}
          <button type="button" className="btn" onClick={onDismiss}>
            Close
          </button>
        </div>
      )}
    </div>
  );
}
