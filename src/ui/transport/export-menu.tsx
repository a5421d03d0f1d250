"use client";

import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import { Download } from "../common/generated/icons";
import type { MidiTiming } from "@/core/formats/beat-to-midi";
import type { RenderMode } from "@/core/sound/render";
import { placeOf } from "@/store/workspace/workspace-state";
import { download, fileNameOf } from "../common/download";
import { useOpened, useWorkspace } from "../workspace/use-workspace";

const EXPORT_RATE = 48000;

/** Takes the beat away: its file, its pattern as MIDI, its loop as sound. What each needs is loaded when it is used. */
export function ExportMenu() {
  const { attempt, busy, failure } = useAttempt();
  const exports = useExports();
  return (
    <Dropdown align="end">
      <Dropdown.Toggle
        as="button"
        type="button"
        className="btn"
        bsPrefix="export"
        aria-label="Export"
        title="Export"
        disabled={busy !== ""}
      >
        {busy ? "…" : <Download aria-hidden />}
      </Dropdown.Toggle>
      <span className="visually-hidden" role="status">
        {busy && `Writing the ${busy}`}
        {failure}
      </span>
      <Dropdown.Menu>
        {exports.map(({ label, what, write }) => (
          <Dropdown.Item as="button" type="button" key={label} onClick={() => void attempt(what, write)}>
            {label}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

interface Export {
  readonly label: string;
  readonly what: string;
  write(): Promise<void>;
}

function useExports(): readonly Export[] {
  const workspace = useWorkspace();
  const { renderWav } = useOpened();
  const name = () => fileNameOf(workspace.beat.name);
  const beatFile = async () => {
    const { writeBeatFile } = await import("@/core/formats/beat-file");
    download(writeBeatFile(workspace.beat), `${name()}.json`, "application/json");
  };
  // All parts, each in the pattern that it plays.
  const places = () => workspace.beat.parts.map(({ id }) => placeOf(workspace.state, id));
  const midi = (timing: MidiTiming, suffix: string) => async () => {
    const { beatToMidi } = await import("@/core/formats/beat-to-midi");
    download(beatToMidi(workspace.beat, places(), timing), `${name()}${suffix}.mid`, "audio/midi");
  };
  const wav = (mode: RenderMode, suffix: string) => async () => {
    const bytes = await renderWav(places(), { sampleRate: EXPORT_RATE, bits: 24, mode });
    download(bytes, `${name()}${suffix}.wav`, "audio/wav");
  };
  return [
    { label: "Beat file", what: "beat file", write: beatFile },
    { label: "MIDI, as heard", what: "MIDI", write: midi("heard", "") },
    { label: "MIDI, as played", what: "MIDI", write: midi("played", " (played)") },
    { label: "WAV, exact loop", what: "WAV", write: wav("loop", " (loop)") },
    { label: "WAV, with its tail", what: "WAV", write: wav("tail", " (with tail)") },
  ];
}

/** One piece of work at a time, and what became of it. */
function useAttempt() {
  const [busy, setBusy] = useState("");
  const [failure, setFailure] = useState("");
  const attempt = async (what: string, work: () => Promise<void>) => {
    setBusy(what);
    setFailure("");
    try {
      await work();
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
    }
    setBusy("");
  };
  return { attempt, busy, failure };
}
