"use client";

import { useRef } from "react";
import { knownPart } from "@/core/beat/edit";
import { findLane } from "@/core/beat/lanes";
import { cureDb } from "@/store/editing/mix-desk";
import type { Clip } from "@/store/state/workspace-state";
import { StereoBars } from "../common/meters/stereo-bars";
import { setText } from "../common/set-text";
import { useMoving, useOfBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { HeldPeak, LOUD_DB } from "./held-peak";
import styles from "./mix.module.scss";

const DRAWN_MS = 200;

/** All together: peaks, loudness, what room is left in words; what was too loud, and the cure. */
export function SumPanel() {
  const { mix } = useWorkspace();
  const clip = useWorkspaceState((state) => state.clip);
  return (
    <section className={styles.sum} aria-label="All together">
      <h2>All together</h2>
      <StereoBars className={styles.sumMeter} barClassName={styles.meter} />
      <p className={styles.figures}>
        <span>
          Peak <HeldPeak name="all together" peakOf={() => mix.peaks.sum} /> dBFS
        </span>
        <Loudness />
        <button type="button" className="btn btn-sm" onClick={() => mix.lookedAt()}>
          Measure anew
        </button>
      </p>
      {clip ? <ClipSays clip={clip} /> : <Headroom />}
    </section>
  );
}

/** ITU-R BS.1770-4: of the moment, and of all since it was measured anew. */
function Loudness() {
  const workspace = useWorkspace();
  const moment = useRef<HTMLElement>(null);
  const whole = useRef<HTMLElement>(null);
  const drawnMs = useRef(0);
  useMoving((nowMs) => {
    if (nowMs - drawnMs.current < DRAWN_MS) return true;
    drawnMs.current = nowMs;
    const { momentaryLufs, integratedLufs } = workspace.levels.latest;
    if (moment.current) setText(moment.current, lufsText(momentaryLufs));
    if (whole.current) setText(whole.current, lufsText(integratedLufs));
    return false;
  });
  return (
    <span title="Loudness without the click, by ITU-R BS.1770-4">
      Loudness <b ref={moment} className={`numerals ${styles.loudness}`} aria-label="Loudness now, LUFS" /> now,{" "}
      <b ref={whole} className={`numerals ${styles.loudness}`} aria-label="Loudness in all, LUFS" /> LUFS in all
    </span>
  );
}

function lufsText(lufs: number): string {
  return Number.isFinite(lufs) ? lufs.toFixed(1).replace("-", "−") : "–";
}

function Headroom() {
  const { mix } = useWorkspace();
  const description = useRef<HTMLParagraphElement>(null);
  useMoving(() => {
    if (description.current) setText(description.current, headroomInWords(20 * Math.log10(mix.peaks.sum)));
    return false;
  });
  return <p ref={description} className={styles.headroom} />;
}

/** @example headroomInWords(-8.2) // "Clean: 8 dB of room." */
function headroomInWords(peakDb: number): string {
  if (peakDb === -Infinity) return "Nothing has sounded yet.";
  const left = Math.max(0, Math.floor(-peakDb));
  return peakDb >= LOUD_DB ? `Little room: ${left} dB.` : `Clean: ${left} dB of room.`;
}

function ClipSays({ clip: { overDb, partId, lane, at } }: { readonly clip: Clip }) {
  const { mix } = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const loudest = useOfBeat((beat) => {
    const part = partId === undefined ? undefined : knownPart(beat, partId);
    const name = part && lane !== undefined ? findLane(part, lane)?.name : undefined;
    return name && beat.parts.length > 1 ? `${name} of ${part!.name}` : name;
  });
  const where = [loudest && `${loudest} was the loudest`, at && `at ${at}`].filter(Boolean).join(", ");
  return (
    <div className={styles.clip} role="alert">
      <p>
        Too loud by {overDb.toFixed(1)} dB{where && `: ${where}`}. The limiter held it back.
      </p>
      <button type="button" className="btn btn-sm" disabled={readOnly} onClick={() => mix.turnDown()}>
        All levels down by {cureDb(overDb)} dB
      </button>
      <button type="button" className="btn btn-sm" onClick={() => mix.lookedAt()}>
        All right
      </button>
    </div>
  );
}
