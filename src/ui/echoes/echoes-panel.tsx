"use client";

import { useState } from "react";
import { useKeyName } from "../common/use-key-name";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { EchoRow } from "./echo-row";
import styles from "./echoes.module.scss";

/** So many are drawn at once; the rest is a key away. */
const SHOWN = 40;

/** What was played, recorded or not, phrase by phrase, the newest on top. */
export default function EchoesPanel() {
  const echoes = useWorkspaceState((state) => state.echoes);
  const openId = useWorkspaceState(({ openEcho }) => openEcho?.whole.id);
  const [more, setMore] = useState(0);
  const newestFirst = echoes.toReversed();
  const openAt = newestFirst.findIndex(({ id }) => id === openId);
  const shown = newestFirst.slice(0, Math.max(SHOWN + more, openAt + 1));
  return (
    <>
      {/* An echo that is looked at needs the room. */}
      {openId === undefined && <AboutEchoes />}
      {echoes.length === 0 && <p className={styles.says}>Nothing played yet.</p>}
      <ol className={styles.list} reversed>
        {shown.map((echo) => (
          <EchoRow key={echo.id} echo={echo} first={echo === echoes[0]} />
        ))}
      </ol>
      {shown.length < echoes.length && (
        <button type="button" className="btn btn-sm" onClick={() => setMore(more + SHOWN)}>
          Older ones ({echoes.length - shown.length})
        </button>
      )}
      <RememberChoice />
    </>
  );
}

/** What echoes are, and how they are parted: above the list, which must not move it from under the hand. */
function AboutEchoes() {
  const workspace = useWorkspace();
  const remembers = useWorkspaceState(({ settings }) => settings.rememberPlaying);
  const patience = useWorkspaceState((state) => state.echoPatience);
  const some = useWorkspaceState(({ echoes }) => echoes.length > 0);
  const { words: backKey } = useKeyName("bringBack");
  return (
    <>
      <p className={styles.says}>
        {remembers
          ? `Everything you play is remembered in this browser, and never leaves it. ${backKey} brings back the newest.`
          : "What you play now is not remembered."}
      </p>
      {some && (
        <label className={styles.slider}>
          <span>Pause between echoes</span>
          <span className="numerals" aria-hidden>
            {patience.toFixed(1)} ×
          </span>
          <input
            type="range"
            min={0.5}
            max={5}
            step={0.1}
            value={patience}
            aria-valuetext={`${patience.toFixed(1)} times as long as usual`}
            title="How long a pause must be to part two echoes; a double click makes it usual again"
            onChange={(event) => workspace.echoes.setPatience(Number(event.currentTarget.value))}
            onDoubleClick={() => workspace.echoes.setPatience(1)}
          />
        </label>
      )}
    </>
  );
}

function RememberChoice() {
  const workspace = useWorkspace();
  const remembers = useWorkspaceState(({ settings }) => settings.rememberPlaying);
  const some = useWorkspaceState(({ echoes }) => echoes.length > 0);
  return (
    <div className={styles.foot}>
      <div className={styles.memory}>
        <label className={styles.check}>
          <input
            type="checkbox"
            className="form-check-input"
            checked={remembers}
            onChange={(event) => workspace.setSettings({ rememberPlaying: event.currentTarget.checked })}
          />
          Remember what I play
        </label>
        {some && <ForgetButton />}
      </div>
    </div>
  );
}

/** Asks once; what is forgotten is gone. */
function ForgetButton() {
  const workspace = useWorkspace();
  const [asking, setAsking] = useState(false);
  if (!asking)
    return (
      <button type="button" className="btn btn-sm" onClick={() => setAsking(true)}>
        Forget all
      </button>
    );
  const forget = () => {
    setAsking(false);
    workspace.review.open(undefined);
    void workspace.echoes.clear();
  };
  return (
    <span role="alert" className={styles.asks}>
      Forget all for good?{" "}
      <button type="button" className="btn btn-sm" onClick={forget}>
        Forget
      </button>{" "}
      <button type="button" className="btn btn-sm" onClick={() => setAsking(false)}>
        No
      </button>
    </span>
  );
}
