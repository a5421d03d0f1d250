"use client";

import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { Plus } from "../icons/generated/plus";
import { VOICE_IDS, VOICES } from "@/core/instruments";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./part-strip.module.scss";

/** More instruments: another kit, or a voice with pitch. */
export function AddPart() {
  const { parts } = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <Dropdown align="start">
      <Dropdown.Toggle
        as="button"
        type="button"
        className="btn btn-sm"
        bsPrefix="part"
        aria-label="Add a part"
        title="Adds a kit or a voice, which loops along"
        disabled={readOnly}
      >
        <Plus aria-hidden />
      </Dropdown.Toggle>
      {createPortal(
        <Dropdown.Menu className={styles.menu}>
          <Dropdown.Item as="button" type="button" onClick={() => parts.addKit()}>
            Kit <small className={styles.says}>drums</small>
          </Dropdown.Item>
          {VOICE_IDS.map((id) => (
            <Dropdown.Item key={id} as="button" type="button" onClick={() => parts.addVoice(id)}>
              {VOICES[id].name} <small className={styles.says}>{VOICES[id].description}</small>
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>,
        document.body,
      )}
    </Dropdown>
  );
}
