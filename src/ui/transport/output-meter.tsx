"use client";

import { useRef } from "react";
import { StereoBars } from "../common/meters/stereo-bars";
import { useMoving, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { setText } from "../common/set-text";
import styles from "./top-strip.module.scss";

const DRAWN_MS = 200;

/** How loud the music is now; past React, as it changes all the time. */
function Loudness() {
  const text = useRef<HTMLSpanElement>(null);
  const workspace = useWorkspace();
  const drawnMs = useRef(0);
  useMoving((nowMs) => {
    if (nowMs - drawnMs.current < DRAWN_MS) return true;
    drawnMs.current = nowMs;
    const { momentaryLufs } = workspace.levels.latest;
    const words = momentaryLufs > -70 ? `${momentaryLufs.toFixed(0).replace("-", "−")} LUFS ` : "";
    if (text.current) setText(text.current, words);
    return false;
  });
  return <span ref={text} className={styles.loudness} title="Loudness now, without the click (ITU-R BS.1770-4)" />;
}

/** Peak of both sides, with a warning that stays, once the limiter had to work, until it is looked at in the mix. */
export function OutputMeter() {
  const workspace = useWorkspace();
  const tooLoud = useWorkspaceState((state) => state.clip !== undefined);
  const latencyMs = useWorkspaceState((state) => state.outputLatencyMs);
  return (
    <div className={styles.meter} role="group" aria-label="Output">
      <StereoBars className={styles.bars} barClassName={styles.bar} />
      {tooLoud ? (
        <button
          type="button"
          className={styles.clipped}
          title="The mix says what was, and how to cure it"
          onClick={() => workspace.showView("mix")}
        >
          Too loud
        </button>
      ) : (
        <span className={`numerals ${styles.figures}`}>
          <span>
            <Loudness />
          </span>
          <span title="Output delay; hits are placed where you heard them">{latencyMs.toFixed(0)} ms</span>
        </span>
      )}
    </div>
  );
}
