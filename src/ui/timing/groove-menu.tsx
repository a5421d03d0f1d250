"use client";

import { useRef, useState, type ChangeEvent } from "react";
import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { ThreeDots } from "react-bootstrap-icons";
import { GROOVE_GRIDS, type GrooveGrid } from "@/core/beat/feel";
import type { GrooveSource } from "@/store/timing-control";
import { download, fileNameOf } from "../common/download";
import { SettingSelect } from "../common/setting-select";
import { useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";

/** Grooves of one's own: made of what was played or of a file, renamed, taken away, dropped. */
export function GrooveMenu() {
  const workspace = useWorkspace();
  const pattern = useOpenPattern();
  const selected = useWorkspaceState((state) => state.selected.length);
  const own = useWorkspaceState(({ grooves }) => grooves);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const removed = useWorkspaceState((state) => state.removedGroove);
  const [grid, setGrid] = useState<GrooveGrid>("1/16");
  const [bars, setBars] = useState<"1" | "2">("1");
  const [failure, setFailure] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const current = pattern.groove?.groove;
  const isOwn = current !== undefined && own.some(({ name }) => name === current.name);
  const played = pattern.passes.some(({ hits }) => hits.length > 0);
  const from = (source: GrooveSource, name: string) =>
    workspace.timing.grooveFrom(source, name, grid, Number(bars) as 1 | 2);

  const read = async ({ currentTarget: { files } }: ChangeEvent<HTMLInputElement>) => {
    const [chosen] = files ?? [];
    if (!chosen) return;
    setFailure("");
    try {
      const name = chosen.name.replace(/\.[^.]*$/, "").slice(0, 120) || "Groove";
      const bytes = new Uint8Array(await chosen.arrayBuffer());
      if (bytes[0] === MIDI_FIRST_BYTE) {
        const { midiStrokes } = await import("@/core/formats/midi-strokes");
        workspace.timing.grooveFromMidi(midiStrokes(bytes), name, grid, Number(bars) as 1 | 2);
      } else {
        const { readGrooveFile } = await import("@/core/formats/groove-file");
        workspace.timing.addGroove(readGrooveFile(new TextDecoder().decode(bytes)));
      }
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
    }
    if (file.current) file.current.value = "";
  };
  const save = async () => {
    if (!current) return;
    const { writeGrooveFile } = await import("@/core/formats/groove-file");
    download(writeGrooveFile(current), `${fileNameOf(current.name)}.groove.json`, "application/json");
  };

  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle as="button" type="button" className="btn btn-sm" bsPrefix="groove" aria-label="Groove from…">
        <ThreeDots aria-hidden />
      </Dropdown.Toggle>
      {createPortal(
        <Dropdown.Menu className={styles.sheet}>
          <div className={styles.pair}>
            <SettingSelect
              label="Lines of a new groove"
              value={grid}
              options={Object.fromEntries(GROOVE_GRIDS.map((name) => [name, name]))}
              onChange={(value: GrooveGrid) => setGrid(value)}
            />
            <SettingSelect
              label="Bars"
              value={bars}
              options={{ "1": "1", "2": "2" }}
              onChange={(value: "1" | "2") => setBars(value)}
            />
          </div>
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
          <Item disabled={readOnly} onClick={() => file.current?.click()}>
            a MIDI or groove file…
          </Item>
          <input
            ref={file}
            type="file"
            hidden
            accept=".mid,.midi,.json"
            aria-label="MIDI or groove file"
            onChange={(event) => void read(event)}
          />
          {failure && (
            <p className={styles.failure} role="alert">
              {failure}
            </p>
          )}
          <Dropdown.Divider />
          {isOwn && (
            <label className={styles.rename}>
              Name
              <input
                key={current.name}
                className="form-control form-control-sm"
                defaultValue={current.name}
                maxLength={120}
                onBlur={(event) => workspace.timing.renameGroove(current, event.currentTarget.value)}
                onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
              />
            </label>
          )}
          <Item disabled={!current} onClick={() => void save()}>
            Export {current?.name ?? "the groove"}
          </Item>
          <Item disabled={!isOwn} onClick={() => current && workspace.timing.removeGroove(current)}>
            Delete {isOwn ? `your groove “${current.name}”` : "a groove of your own"}
          </Item>
          {removed && (
            <Item disabled={false} onClick={() => workspace.timing.restoreGroove()}>
              Bring back your groove “{removed.name}”
            </Item>
          )}
        </Dropdown.Menu>,
        document.body,
      )}
    </Dropdown>
  );
}

/** The M of "MThd". */
const MIDI_FIRST_BYTE = 0x4d;
const MAX_PASSES = 5;

function Item(props: { readonly disabled: boolean; readonly children: React.ReactNode; onClick(): void }) {
  return <Dropdown.Item as="button" type="button" {...props} />;
}
