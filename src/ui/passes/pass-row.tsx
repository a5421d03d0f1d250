"use client";

import { useState } from "react";
import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { CircleFill, Headphones, ThreeDots, VolumeMute, VolumeUp } from "react-bootstrap-icons";
import type { Pass } from "@/core/beat/beat";
import { changeQuantize } from "@/core/beat/quantize-settings";
import { NumberField } from "../common/number-field";
import { GridSelect } from "../timing/grid-select";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { PassName } from "./pass-name";
import styles from "./passes.module.scss";

export interface PassRowProps {
  readonly pass: Pass;
  /** It is being recorded. */
  readonly open: boolean;
  /** There is no pass under it to merge with. */
  readonly lowest: boolean;
}

/** One pass: its name, how many hits, what corrects it, silent, alone, or gone. */
export function PassRow({ pass, open, lowest }: PassRowProps) {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const [renaming, setRenaming] = useState(false);
  const hits = pass.hits.filter(({ masked }) => !masked).length;
  const masked = pass.hits.length - hits;
  return (
    <li className={`${styles.pass} ${open ? styles.open : ""} ${pass.muted ? styles.muted : ""}`}>
      <div className={styles.head}>
        <span className={styles.name}>
          {open && <CircleFill className={styles.dot} aria-label="Being recorded" />}
          <PassName pass={pass} editing={renaming} onEdit={setRenaming} disabled={readOnly} />
        </span>
        <span className={`numerals ${styles.count}`}>
          {hits} {hits === 1 ? "hit" : "hits"}
          {masked > 0 && ` +${masked} double`}
        </span>
      </div>
      <GridSelect
        label={`Grid of ${pass.name}`}
        hideLabel
        settings={pass.quantize}
        disabled={readOnly}
        onChange={(grid) => workspace.setPass(pass.id, { quantize: changeQuantize(pass.quantize, { grid }) })}
      />
      <span className={styles.tools}>
        <button
          type="button"
          className="btn btn-sm"
          aria-label={`Mute ${pass.name}`}
          aria-pressed={pass.muted}
          disabled={readOnly}
          onClick={() => workspace.setPass(pass.id, { muted: !pass.muted })}
        >
          {pass.muted ? <VolumeMute aria-hidden /> : <VolumeUp aria-hidden />}
        </button>
        <button
          type="button"
          className="btn btn-sm"
          aria-label={`Solo ${pass.name}`}
          aria-pressed={pass.soloed ?? false}
          disabled={readOnly}
          onClick={() => workspace.soloPass(pass.id, !pass.soloed)}
        >
          <Headphones aria-hidden />
        </button>
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
                    onChange={(percent, gesture) =>
                      workspace.setPass(pass.id, { quantize: { ...pass.quantize, [key]: percent / 100 } }, gesture)
                    }
                  />
                ))}
              </div>
              <Dropdown.Divider />
              <Dropdown.Item as="button" type="button" onClick={() => setRenaming(true)}>
                Rename
              </Dropdown.Item>
              <Dropdown.Item
                as="button"
                type="button"
                disabled={lowest}
                onClick={() => workspace.mergePassDown(pass.id)}
              >
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
      </span>
    </li>
  );
}
