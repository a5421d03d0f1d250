"use client";

import { useEffect, useState } from "react";
import { useWorkspaceState } from "../workspace/use-workspace";
import styles from "./workspace.module.scss";

const SHOWN_MS = 2600;

/** What was just done or refused: seen for a moment and spoken, also when it is the same as before. */
export function Notice() {
  const notice = useWorkspaceState((state) => state.notice);
  const count = useWorkspaceState((state) => state.noticeCount);
  const [gone, setGone] = useState(count);
  useEffect(() => {
    const timer = setTimeout(() => setGone(count), SHOWN_MS);
    return () => clearTimeout(timer);
  }, [count]);
  const shown = gone !== count && notice !== "";
  return (
    <div role="status">
      {/* A new element each time: words that do not change would not be spoken. */}
      {shown && (
        <span key={count} className={styles.notice}>
          {notice}
        </span>
      )}
    </div>
  );
}
