"use client";

import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { ThreeDots } from "../icons/generated/three-dots";
import type { Pass } from "@/core/beat/beat";
import { NumberField } from "../common/fields/number-field";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./passes.module.scss";

export interface PassMenuProps {
  readonly pass: Pass;
  /** There is no pass under it to merge with. */
  readonly lowest: boolean;
  onRename(): void;
}

/** What is seldom done to a pass: how it is corrected, its name, merging, deleting. */
export function PassMenu({ pass, lowest, onRename }: PassMenuProps) {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const masked = pass.hits.filter((hit) => hit.masked).length;
  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle
        as="button"
        type="button"
        className="btn btn-sm"
        bsPrefix="pass"
        aria-label={`More of ${pass.name}`}
        disabled={readOnly}
      >
        <ThreeDots aria-hidden />
      </Dropdown.Toggle>
      {createPortal(
        <Dropdown.Menu>
          <PassPull pass={pass} />
          <Dropdown.Divider />
          <Dropdown.Item as="button" type="button" onClick={onRename}>
            Rename
          </Dropdown.Item>
          <Dropdown.Item as="button" type="button" disabled={lowest} onClick={() => workspace.mergePassDown(pass.id)}>
            Merge with the pass below
          </Dropdown.Item>
          {masked > 0 && (
            <Dropdown.Item as="button" type="button" onClick={() => workspace.unmaskPass(pass.id)}>
              Let {masked} double triggers sound
            </Dropdown.Item>
          )}
          <Dropdown.Item as="button" type="button" onClick={() => workspace.removePass(pass.id)}>
            Delete {pass.name}
          </Dropdown.Item>
        </Dropdown.Menu>,
        document.body,
      )}
    </Dropdown>
  );
}

/** How hard and how far the grid pulls the hits of a pass. */
function PassPull({ pass }: { readonly pass: Pass }) {
  const workspace = useWorkspace();
  return (
    <div className={styles.settings}>
      {(["strength", "reach"] as const).map((key) => (
        <NumberField
          key={key}
          label={key === "strength" ? "Strength" : "Reach"}
          unit="%"
          value={Math.round(pass.quantize[key] * 100)}
          min={0}
          max={100}
          step={5}
          standard={100}
          disabled={pass.quantize.grid === "off"}
          onChange={(percent, gesture) => workspace.setPassQuantize(pass.id, { [key]: percent / 100 }, gesture)}
        />
      ))}
    </div>
  );
}
