"use client";

import { useMemo } from "react";
import { Download, Play, Stop } from "react-bootstrap-icons";
import { download, fileNameOf } from "../common/download";
import { useKeyName } from "../common/use-key-name";
import { useBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { AlongFields } from "./along-fields";
import { EchoMap } from "./echo-map";
import styles from "./echoes.module.scss";
import { FreeFields } from "./free-fields";

/** The echo that is open: what it is, how it would come back, and how that sounds. */
export function OpenEchoView({ mayJoin }: { readonly mayJoin: boolean }) {
  const workspace = useWorkspace();
  const { words: hearKey } = useKeyName("hearEcho");
  const { words: backKey } = useKeyName("bringBack");
  const beat = useBeat();
  const open = useWorkspaceState(({ openEcho }) => openEcho);
  const heard = useWorkspaceState(({ preview }) => preview !== undefined);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const joined = useWorkspaceState(({ joinedEchoes }) => open !== undefined && joinedEchoes.size > 0);
  const { echoDesk, echoes } = workspace;
  const advice = useMemo(() => (open ? echoDesk.advice() : undefined), [echoDesk, open]);
  if (!open) return null;
  const along = echoDesk.isAlong(open.echo);
  const reading = along ? undefined : open.readings?.[open.chosen];
  const ready = along || reading !== undefined;
  const saveMidi = () => {
    const bytes = echoDesk.midi();
    if (bytes) download(bytes, `${fileNameOf(beat.name)} echo.mid`, "audio/midi");
  };
  const { grid } = beat.inputQuantize;
  return (
    <div className={styles.open}>
      <EchoMap open={open} reading={reading} />
      <div className={styles.actions}>
        <button
          type="button"
          className="btn btn-sm"
          disabled={!ready}
          aria-pressed={heard}
          title={`Hears it as it would come back (${hearKey})`}
          onClick={() => echoDesk.toggleHearing()}
        >
          {heard ? <Stop aria-hidden /> : <Play aria-hidden />} Hear
        </button>
        <button
          type="button"
          className={`btn btn-sm ${styles.back}`}
          disabled={!ready || readOnly}
          title={`Makes a pass of it (${backKey})`}
          onClick={() => echoDesk.bringBack()}
        >
          Bring back
        </button>
        <button type="button" className="btn btn-sm" title="Saves it as a MIDI file" onClick={saveMidi}>
          <Download aria-hidden /> MIDI
        </button>
      </div>
      {along ? <AlongFields open={open} /> : <FreeFields open={open} />}
      {ready && (
        <div>
          <label className={styles.check}>
            <input
              type="checkbox"
              className="form-check-input"
              checked={open.quantized}
              disabled={grid === "off"}
              onChange={(event) => echoDesk.setWay({ quantized: event.currentTarget.checked })}
            />
            Correct to {grid === "off" ? "no grid" : grid}
          </label>
          {advice && <p className={styles.says}>{advice.sentence}</p>}
        </div>
      )}
      {(mayJoin || joined) && (
        <JoinButtons
          whole={open.whole.hits.map(({ timeMs }) => timeMs)}
          mayJoin={mayJoin}
          onJoin={(id, join) => {
            echoes.join({ ...open.whole, id }, join);
            const now = workspace.state.echoes.findLast((one) => one.id <= open.whole.id);
            echoDesk.open(now);
          }}
        />
      )}
    </div>
  );
}

interface JoinButtonsProps {
  /** When each hit was played. */
  readonly whole: readonly number[];
  readonly mayJoin: boolean;
  onJoin(id: number, join: boolean): void;
}

function JoinButtons({ whole, mayJoin, onJoin }: JoinButtonsProps) {
  const joinedEchoes = useWorkspaceState((state) => state.joinedEchoes);
  const seam = whole.slice(1).find((timeMs) => joinedEchoes.has(timeMs));
  return (
    <div className={styles.actions}>
      {mayJoin && (
        <button type="button" className="btn btn-sm" onClick={() => onJoin(whole[0]!, true)}>
          Join the one before
        </button>
      )}
      {seam !== undefined && (
        <button type="button" className="btn btn-sm" onClick={() => onJoin(seam, false)}>
          Part again
        </button>
      )}
    </div>
  );
}
