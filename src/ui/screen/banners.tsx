"use client";

import { useState } from "react";
import { keptHitCount } from "@/core/beat/edits/kept-pass";
import { READ_ONLY_NOTICES } from "@/store/document/beat-document";
import { MEMORY_TEXT } from "../workspace/memory-text";
import { useOpened, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./workspace.module.scss";

/** What the player has to know before playing on; nothing when all is well. */
export default function Banners() {
  const memoryReason = useWorkspaceState((state) => state.memoryReason);
  return (
    <>
      <SoundBanner />
      <EditorBanner />
      {memoryReason && <p>{MEMORY_TEXT[memoryReason]}</p>}
      <LostBanner />
      <DeviceBanner />
      <TapBanner />
    </>
  );
}

function SoundBanner() {
  const { restartSound } = useOpened();
  const sound = useWorkspaceState((state) => state.sound);
  if (sound === "waiting")
    return <p className={styles.untilTouched}>Sound is off until you press a key or click: the browser asks for it.</p>;
  if (sound !== "failed") return null;
  return (
    <p>
      There is no sound. Everything else works, and export too.
      <button type="button" className="btn btn-sm" onClick={restartSound}>
        Start it again
      </button>
    </p>
  );
}

function EditorBanner() {
  const { takeOver } = useOpened();
  const editorState = useWorkspaceState((state) => state.editorState);
  const [asking, setAsking] = useState(false);
  if (editorState === "editing") return null;
  if (editorState === "no locks")
    return (
      <p>
        {isSecureContext
          ? READ_ONLY_NOTICES[editorState]
          : "This address is not secure, so the browser gives the app no sound, no MIDI and no way to tell who has a beat: here beats can only be looked at and exported. Open it over https, or on the machine that serves it."}
      </p>
    );
  const take = async () => {
    setAsking(true);
    await takeOver();
    setAsking(false);
  };
  return (
    <p>
      This beat is open in another tab. Here it can be played, not changed.
      <button type="button" className="btn btn-sm" disabled={asking} onClick={() => void take()}>
        Go on here
      </button>
    </p>
  );
}

function LostBanner() {
  const workspace = useWorkspace();
  const lost = useWorkspaceState((state) => state.lostPasses);
  if (lost.length === 0) return null;
  const hits = keptHitCount(lost);
  const patterns = [...new Set(lost.map(({ pattern }) => pattern.name))];
  const what = lost.length === 1 ? "A pass was" : `${lost.length} passes were`;
  return (
    <p>
      {what} being recorded when the page went away: {hits} {hits === 1 ? "hit" : "hits"}
      {patterns.length > 1 && ` in ${patterns.join(", ")}`}.
      <button type="button" className="btn btn-sm" onClick={() => workspace.document.restoreRecoverable()}>
        {lost.length === 1 ? "Bring it back" : "Bring them back"}
      </button>
      <button type="button" className="btn btn-sm" onClick={() => workspace.document.dropLost()}>
        Let {lost.length === 1 ? "it" : "them"} go
      </button>
    </p>
  );
}

function DeviceBanner() {
  const workspace = useWorkspace();
  const lost = useWorkspaceState((state) => state.midi.recoverable);
  if (!lost) return null;
  return (
    <p>
      “{lost}” is not plugged in any more. What was played on it is kept; plug it in again and go on.
      <button type="button" className="btn btn-sm" onClick={() => workspace.devices.readLost()}>
        All right
      </button>
    </p>
  );
}

function TapBanner() {
  const workspace = useWorkspace();
  const tapped = useWorkspaceState((state) => state.tapped);
  if (!tapped) return null;
  return (
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
  );
}
