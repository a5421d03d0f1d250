"use client";

import { CircleFill, Trash, VolumeMute, VolumeUp } from "react-bootstrap-icons";
import type { Pass } from "@/core/beat/beat";
import { GridSelect } from "../timing/grid-select";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./passes.module.scss";

/** One pass: how many hits, what corrects it, silent or not. */
export function PassRow({ pass, open }: { readonly pass: Pass; readonly open: boolean }) {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const hits = pass.hits.length;
  return (
    <li className={`${styles.pass} ${open ? styles.open : ""} ${pass.muted ? styles.muted : ""}`}>
      <span className={styles.name}>
        {open && <CircleFill className={styles.dot} aria-label="Being recorded" />}
        {pass.name}
      </span>
      <span className={`numerals ${styles.count}`}>
        {hits} {hits === 1 ? "hit" : "hits"}
      </span>
      <GridSelect
        label={`Grid of ${pass.name}`}
        hideLabel
        value={pass.quantize.grid}
        disabled={readOnly}
        onChange={(grid) => workspace.setPass(pass.id, { quantize: { ...pass.quantize, grid } })}
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
          aria-label={`Delete ${pass.name}`}
          disabled={readOnly}
          onClick={() => workspace.removePass(pass.id)}
        >
          <Trash aria-hidden />
        </button>
      </span>
    </li>
  );
}
