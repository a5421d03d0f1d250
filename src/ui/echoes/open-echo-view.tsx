"use client";

import { useMemo } from "react";
import type { GridAdvice } from "@/core/analysis/grid-advice";
import { advisePattern } from "@/core/analysis/pattern-advice";
import { findPattern } from "@/core/beat/edit";
import type { BroughtBack } from "@/core/recover/echo-pass";
import { Download } from "../icons/generated/download";
import { Play } from "../icons/generated/play";
import { Stop } from "../icons/generated/stop";
import { isAlong, type OpenEcho } from "@/store/state/open-echo";
import { download, fileNameOf } from "../common/download";
import { useKeyName } from "../common/use-key-name";
import { useBeat, useOfBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { SettingSelect } from "../common/fields/setting-select";
import { AlongFields } from "./along-fields";
import { EchoMap } from "./echo-map";
import styles from "./echoes.module.scss";
import { FreeFields } from "./free-fields";

const ALL = "";

/** The echo that is open: what it is, how it would come back, and how that sounds. */
export function OpenEchoView({ mayJoin }: { readonly mayJoin: boolean }) {
  const beat = useBeat();
  const open = useWorkspaceState(({ openEcho }) => openEcho);
  const joined = useWorkspaceState(({ joinedEchoes }) => open !== undefined && joinedEchoes.size > 0);
  if (!open) return null;
  const along = isAlong(open.echo, beat);
  const reading = along ? undefined : open.readings?.[open.chosen];
  const ready = along || reading !== undefined;
  return (
    <div className={styles.open}>
      <EchoMap open={open} reading={reading} />
      <EchoButtons ready={ready} />
      <PartChoice open={open} />
      {along ? <AlongFields open={open} /> : <FreeFields open={open} />}
      {ready && <CorrectChoice open={open} />}
      {(mayJoin || joined) && <JoinButtons open={open} mayJoin={mayJoin} />}
    </div>
  );
}

/** Hear it, bring it back, save it. */
function EchoButtons({ ready }: { readonly ready: boolean }) {
  const { recall } = useWorkspace();
  const { words: hearKey } = useKeyName("hearEcho");
  const { words: backKey } = useKeyName("bringBack");
  const name = useOfBeat(({ name }) => name);
  const heard = useWorkspaceState(({ preview }) => preview !== undefined);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const saveMidi = async () => {
    const bytes = await recall.midi();
    if (bytes) download(bytes, `${fileNameOf(name)} echo.mid`, "audio/midi");
  };
  return (
    <div className={styles.actions}>
      <button
        type="button"
        className="btn btn-sm"
        disabled={!ready}
        aria-pressed={heard}
        title={`Hears it as it would come back (${hearKey})`}
        onClick={() => recall.toggleHearing()}
      >
        {heard ? <Stop aria-hidden /> : <Play aria-hidden />} Hear
      </button>
      <button
        type="button"
        className={`btn btn-sm ${styles.back}`}
        disabled={!ready || readOnly}
        title={`Makes a pass of it (${backKey})`}
        onClick={() => recall.bringBack()}
      >
        Bring back
      </button>
      <button type="button" className="btn btn-sm" title="Saves it as a MIDI file" onClick={() => void saveMidi()}>
        <Download aria-hidden /> MIDI
      </button>
    </div>
  );
}

/** Of what was played in several parts all comes back, each into its own, or that of one. */
function PartChoice({ open: { whole, partId } }: { readonly open: OpenEcho }) {
  const { recall } = useWorkspace();
  const parts = useOfBeat(({ parts }) => parts);
  const played = new Set(whole.hits.map((hit) => hit.partId));
  const there = parts.filter(({ id }) => played.has(id));
  if (there.length < 2) return null;
  return (
    <SettingSelect
      label="Of which parts"
      value={partId === undefined ? ALL : String(partId)}
      options={{
        [ALL]: "all, each into its own",
        ...Object.fromEntries(there.map(({ id, name }) => [String(id), name])),
      }}
      onChange={(value) => recall.setRecall({ partId: value === ALL ? undefined : Number(value) })}
    />
  );
}

/** Whether it comes back corrected, and what the playing fits. */
function CorrectChoice({ open }: { readonly open: OpenEcho }) {
  const { recall } = useWorkspace();
  const { grid } = useBeat().inputQuantize;
  const advice = useMemo(() => (open ? adviceOf(recall.make()) : undefined), [recall, open]);
  return (
    <div>
      <label className={styles.check}>
        <input
          type="checkbox"
          className="form-check-input"
          checked={open.quantized}
          disabled={grid === "off"}
          onChange={(event) => recall.setRecall({ quantized: event.currentTarget.checked })}
        />
        Correct to {grid === "off" ? "no grid" : grid}
      </label>
      {advice && <p className={styles.says}>{advice.sentence}</p>}
    </div>
  );
}

/** Joins the echo with the one before, or parts it at the first seam. */
function JoinButtons({ open, mayJoin }: { readonly open: OpenEcho; readonly mayJoin: boolean }) {
  const workspace = useWorkspace();
  const joinedEchoes = useWorkspaceState((state) => state.joinedEchoes);
  const [first, ...rest] = open.whole.hits.map(({ timeMs }) => timeMs);
  const seam = rest.find((timeMs) => joinedEchoes.has(timeMs));
  const join = (id: number | undefined, together: boolean) => {
    if (id === undefined) return;
    workspace.echoes.join({ ...open.whole, id }, together);
    workspace.review.open(workspace.state.echoes.findLast((one) => one.id <= open.whole.id));
  };
  return (
    <div className={styles.actions}>
      {mayJoin && (
        <button type="button" className="btn btn-sm" onClick={() => join(first, true)}>
          Join the one before
        </button>
      )}
      {seam !== undefined && (
        <button type="button" className="btn btn-sm" onClick={() => join(seam, false)}>
          Part again
        </button>
      )}
    </div>
  );
}

/** Which grid the open echo would be on, if it came back as is chosen now. */
function adviceOf(made: BroughtBack | undefined): GridAdvice | undefined {
  if (!made) return undefined;
  const { beat, patternRef } = made;
  const passId = findPattern(beat, patternRef).passes.at(-1)!.id;
  return advisePattern(beat, patternRef, { kind: "pass", passId }, beat.inputQuantize);
}
