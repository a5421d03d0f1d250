"use client";

import { memo, useState } from "react";
import { CircleFill } from "../icons/generated/circle-fill";
import { Headphones } from "../icons/generated/headphones";
import { VolumeMute } from "../icons/generated/volume-mute";
import { VolumeUp } from "../icons/generated/volume-up";
import type { Pass } from "@/core/beat/beat";
import { GridSelect } from "../timing/grid-select";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { PassMenu } from "./pass-menu";
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
export const PassRow = memo(function PassRow({ pass, open, lowest }: PassRowProps) {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const [renaming, setRenaming] = useState(false);
  const hits = pass.hits.filter(({ masked }) => !masked).length;
  const masked = pass.hits.length - hits;
  return (
    <li className={`${styles.pass} ${open ? styles.open : ""} ${pass.muted ? styles.muted : ""}`}>
      <span className={styles.name}>
        {open && <CircleFill className={styles.dot!} aria-label="Being recorded" />}
        <PassName pass={pass} editing={renaming} onEdit={setRenaming} disabled={readOnly} />
      </span>
      <span className={`numerals ${styles.count}`}>
        {hits} <span className="visually-hidden">{hits === 1 ? "hit" : "hits"}</span>
        {masked > 0 && ` +${masked} double`}
      </span>
      <GridSelect
        label={`Grid of ${pass.name}`}
        hideLabel
        settings={pass.quantize}
        disabled={readOnly}
        onChange={(grid) => workspace.setPassQuantize(pass.id, { grid })}
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
        <PassMenu pass={pass} lowest={lowest} onRename={() => setRenaming(true)} />
      </span>
    </li>
  );
});
