"use client";

import { CircleFill } from "../icons/generated/circle-fill";
import { CircleHalf } from "../icons/generated/circle-half";
import { EraserFill } from "../icons/generated/eraser-fill";
import { PlayFill } from "../icons/generated/play-fill";
import { StopFill } from "../icons/generated/stop-fill";
import { useKeyName } from "../common/use-key-name";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** Play, record, practice, erase. */
export function TransportButtons() {
  const workspace = useWorkspace();
  const running = useWorkspaceState(({ transport }) => transport.running);
  const writing = useWorkspaceState(({ transport }) => transport.writing);
  const erasing = useWorkspaceState((state) => state.erasing.on);
  const noSound = useWorkspaceState(({ sound }) => sound === "loading" || sound === "failed");
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const button = `btn ${styles.transport}`;
  return (
    <div className={styles.buttons} role="group" aria-label="Transport">
      <button type="button" className={button} disabled={noSound} onClick={() => workspace.transport.togglePlay()}>
        {running ? <StopFill aria-hidden /> : <PlayFill aria-hidden />}
        {running ? "Stop" : "Play"}
        <KeyHint id="play" />
      </button>
      <button
        type="button"
        className={`${button} ${styles.record}`}
        aria-pressed={writing === "record"}
        disabled={noSound || readOnly}
        onClick={() => workspace.transport.toggleRecord()}
      >
        <CircleFill aria-hidden />
        Record
        <KeyHint id="record" />
      </button>
      <button
        type="button"
        className={`${button} ${styles.practice}`}
        aria-pressed={writing === "practice"}
        disabled={noSound || readOnly}
        onClick={() => workspace.transport.togglePractice()}
      >
        <CircleHalf aria-hidden />
        Practice
        <KeyHint id="practice" />
      </button>
      <button
        type="button"
        className={button}
        aria-pressed={erasing}
        title="With a pad, or drawn over the lanes"
        disabled={readOnly}
        onClick={(event) => workspace.eraser.hold(!erasing, event.timeStamp)}
      >
        <EraserFill aria-hidden />
        Erase
        <KeyHint id="erase" />
      </button>
    </div>
  );
}

/** What to press, on the button that it presses. */
function KeyHint({ id }: { readonly id: string }) {
  const { words } = useKeyName(id);
  return (
    <kbd className={styles.hint} aria-hidden>
      {words.replace(/ .*/, "").replace("Backspace", "Bksp")}
    </kbd>
  );
}
