"use client";

import { useRef, useState, type ChangeEvent } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import type { GrooveGrid } from "@/core/beat/feel";
import { CoreError } from "@/core/core-error";
import { MAX_FILE_BYTES } from "@/core/limits";
import type { GrooveSource, TimingControl } from "@/store/timing/timing-control";
import { useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";
import { wordsOf } from "@/store/words-of";

const MAX_PASSES = 5;

interface NewGroove {
  readonly grid: GrooveGrid;
  readonly bars: 1 | 2;
}

/** What a groove can be made of: what was played here, or a file. */
export function GrooveSources({ grid, bars }: NewGroove) {
  const { timing } = useWorkspace();
  const pattern = useOpenPattern();
  const selected = useWorkspaceState((state) => state.selected.length);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const played = pattern.passes.some(({ hits }) => hits.length > 0);
  const from = (source: GrooveSource, name: string) => timing.grooveFrom(source, name, grid, bars);
  return (
    <>
      <p className="dropdown-header">Groove from…</p>
      <Item disabled={!played || readOnly} onClick={() => from({ kind: "pattern" }, pattern.name)}>
        this pattern
      </Item>
      {pattern.passes
        .toReversed()
        .slice(0, MAX_PASSES)
        .map(({ id, name }) => (
          <Item key={id} disabled={readOnly} onClick={() => from({ kind: "pass", passId: id }, name)}>
            {name}
          </Item>
        ))}
      <Item disabled={selected === 0 || readOnly} onClick={() => from({ kind: "selected" }, "Selected hits")}>
        the selected hits
      </Item>
      <GrooveFile disabled={readOnly} grid={grid} bars={bars} />
    </>
  );
}

function GrooveFile({ disabled, grid, bars }: NewGroove & { readonly disabled: boolean }) {
  const { timing } = useWorkspace();
  const [failure, setFailure] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const choose = ({ currentTarget }: ChangeEvent<HTMLInputElement>) => {
    const [chosen] = currentTarget.files ?? [];
    if (!chosen) return;
    setFailure("");
    readGroove(timing, chosen, grid, bars)
      .catch((error: unknown) => setFailure(wordsOf(error)))
      .finally(() => (currentTarget.value = ""));
  };
  return (
    <>
      <Item disabled={disabled} onClick={() => file.current?.click()}>
        a MIDI or groove file…
      </Item>
      <input
        ref={file}
        type="file"
        hidden
        accept=".mid,.midi,.json"
        aria-label="MIDI or groove file"
        onChange={choose}
      />
      {failure && (
        <p className={styles.failure} role="alert">
          {failure}
        </p>
      )}
    </>
  );
}

/** Takes a groove out of a file of either kind. @throws {CoreError} what is wrong with it, and where */
async function readGroove(timing: TimingControl, chosen: File, grid: GrooveGrid, bars: 1 | 2): Promise<void> {
  const name = chosen.name.replace(/\.[^.]*$/, "").slice(0, 120) || "Groove";
  if (chosen.size > MAX_FILE_BYTES) throw new CoreError("too-large", "This file is larger than 10 MB.");
  const bytes = new Uint8Array(await chosen.arrayBuffer());
  const { refuseOthers } = await import("@/store/refuse-others");
  if (refuseOthers(bytes, ["groove", "midi"], "bad-groove") === "midi") {
    const { midiStrokes } = await import("@/core/formats/midi/midi-strokes");
    timing.grooveFromMidi(midiStrokes(bytes), name, grid, bars);
  } else {
    const { readGrooveFile } = await import("@/core/formats/groove-file");
    timing.addGroove(readGrooveFile(new TextDecoder().decode(bytes)));
  }
}

function Item(props: { readonly disabled: boolean; readonly children: React.ReactNode; onClick(): void }) {
  return <Dropdown.Item as="button" type="button" {...props} />;
}
