"use client";

import Dropdown from "react-bootstrap/Dropdown";
import { LOOKED_FOR } from "@/core/editing/choose-hits";
import { useKeyName } from "../common/use-key-name";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { MenuItem } from "./menu-item";
import { WhereForm } from "./where-form";

/** What can be chosen at once, and what can be looked for hit by hit. */
export default function SelectItems({ onDone }: { onDone(): void }) {
  const focus = useWorkspaceState(({ selected }) => selected.length > 0);
  const { lanes } = useWorkspace();
  const all = useKeyName("selectAll");
  const invert = useKeyName("invertSelection");
  const next = useKeyName("nextLike");
  return (
    <>
      <MenuItem keys={all.words} onClick={() => lanes.selectAll()}>
        All hits
      </MenuItem>
      <MenuItem keys={invert.words} onClick={() => lanes.invertSelection()}>
        Those that are not chosen
      </MenuItem>
      {(["lane", "line", "bar"] as const).map((what) => (
        <MenuItem key={what} disabled={!focus} onClick={() => lanes.selectLike(what)}>
          All in its {what}
        </MenuItem>
      ))}
      <MenuItem disabled={!focus} onClick={() => lanes.growSelection()}>
        The hits beside them, too
      </MenuItem>
      <Dropdown.Divider />
      {LOOKED_FOR.map((kind, index) => (
        <MenuItem
          key={kind}
          keys={next.words.replace(/\d.*/, String(index + 1))}
          onClick={() => lanes.selectNext(kind)}
        >
          {kind === "double" ? "Next double trigger" : `Next ${kind} hit`}
        </MenuItem>
      ))}
      <Dropdown.Divider />
      <WhereForm onDone={onDone} />
    </>
  );
}
