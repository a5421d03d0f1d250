"use client";

import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import { Download } from "react-bootstrap-icons";
import type { MidiTiming } from "@/core/formats/beat-to-midi";
import type { RenderMode } from "@/core/sound/render";
import { download, fileNameOf } from "../common/download";
import { useOpened, useWorkspace } from "../workspace/use-workspace";

const EXPORT_RATE = 48000;

/** Takes the beat away: its file, its pattern as MIDI, its loop as sound. What each needs is loaded when it is used. */
export function ExportMenu() {
  const workspace = useWorkspace();
  const { renderWav } = useOpened();
  const [busy, setBusy] = useState("");
  const [failure, setFailure] = useState("");

  const attempt = (what: string, work: (fileName: string) => Promise<void>) => async () => {
    setBusy(what);
    setFailure("");
    try {
      await work(fileNameOf(workspace.beat.name));
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
    }
    setBusy("");
  };
  const saveFile = attempt("beat file", async (name) => {
    const { writeBeatFile } = await import("@/core/formats/beat-file");
    download(writeBeatFile(workspace.beat), `${name}.json`, "application/json");
  });
  const saveMidi = (timing: MidiTiming) =>
    attempt("MIDI", async (name) => {
      const { beatToMidi } = await import("@/core/formats/beat-to-midi");
      download(
        beatToMidi(workspace.beat, workspace.state.place, timing),
        `${name}${timing === "played" ? " (played)" : ""}.mid`,
        "audio/midi",
      );
    });
  const saveWav = (mode: RenderMode) =>
    attempt("WAV", async (name) => {
      const bytes = await renderWav(workspace.state.place, { sampleRate: EXPORT_RATE, bits: 24, mode });
      download(bytes, `${name}${mode === "tail" ? " (with tail)" : " (loop)"}.wav`, "audio/wav");
    });

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
        <Dropdown.Item as="button" type="button" onClick={() => void saveFile()}>
          Beat file
        </Dropdown.Item>
        <Dropdown.Item as="button" type="button" onClick={() => void saveMidi("heard")()}>
          MIDI, as heard
        </Dropdown.Item>
        <Dropdown.Item as="button" type="button" onClick={() => void saveMidi("played")()}>
          MIDI, as played
        </Dropdown.Item>
        <Dropdown.Item as="button" type="button" onClick={() => void saveWav("loop")()}>
          WAV, exact loop
        </Dropdown.Item>
        <Dropdown.Item as="button" type="button" onClick={() => void saveWav("tail")()}>
          WAV, with its tail
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
}
