"use client";

import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { VIEWS, type View } from "@/store/state/workspace-state";
import { StrikeLight } from "../common/meters/strike-light";
import { useKeyName } from "../common/use-key-name";
import styles from "./workspace.module.scss";

const NAMES: Readonly<Record<View, string>> = {
  lanes: "Lanes",
  hits: "Hits",
  mix: "Mix",
  sounds: "Sounds",
  report: "Report",
  inputs: "Inputs",
};
const ANY = () => true;

/** What takes the middle of the screen; a light for every hit that arrives, from whatever device, is at the inputs. */
export function ViewChoice() {
  const workspace = useWorkspace();
  const view = useWorkspaceState((state) => state.view);
  const { words } = useKeyName("view");
  return (
    <nav className={styles.views} aria-label="View" title={words}>
      {VIEWS.map((one) => (
        <button
          key={one}
          type="button"
          className={styles.view}
          aria-pressed={one === view}
          onClick={() => workspace.showView(one === view ? "lanes" : one)}
        >
          {NAMES[one]}
          {one === "inputs" && <InputLight />}
        </button>
      ))}
    </nav>
  );
}

function InputLight() {
  const devices = useWorkspaceState(({ midi }) => midi.devices.length);
  const unasked = useWorkspaceState(({ midi }) => midi.access === "off" && midi.devices.length === 0);
  return (
    <>
      <StrikeLight isOf={ANY} />
      {unasked && <small>Controller? Connect</small>}
      {devices > 0 && <span className="numerals"> {devices}</span>}
    </>
  );
}
