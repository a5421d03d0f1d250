"use client";

import { memo } from "react";
import type { LaneInfo } from "@/core/beat/lanes";
import { isErased } from "@/store/state/workspace-state";
import { DrumIcon } from "../common/drum-shape";
import { MuteSolo } from "../common/mute-solo";
import { LaneLight } from "../common/meters/strike-light";
import { VolumeMute } from "../icons/generated/volume-mute";
import { useOfPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./picture/lanes.module.scss";

export interface LaneHeadProps {
  readonly pad: LaneInfo;
  readonly row: number;
  /** There is something to clear. */
  readonly used: boolean;
}

/** A lane's name, mute, solo and the light that says a hit arrived. */
export const LaneHead = memo(function LaneHead({ pad, row, used }: LaneHeadProps) {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const erased = useWorkspaceState((state) => isErased(state, pad.id));
  return (
    <div className={`${styles.head} ${erased ? styles.erased : ""}`} style={{ gridRow: row + 1 }}>
      <LaneLight lane={pad.id} />
      <DrumIcon family={pad.family} />
      <span className={styles.padName} title={pad.name}>
        {pad.name}
      </span>
      {used && !readOnly && (
        <button
          type="button"
          className={`${styles.toggle} ${styles.clear}`}
          aria-label={`Clear ${pad.name}`}
          title={`Clear ${pad.name} in this pattern`}
          onClick={() => workspace.clearPad(pad.id)}
        >
          ✕
        </button>
      )}
      <SilentToggle pad={pad} />
      {pad.family !== "pitch" && <LaneToggles pad={pad} />}
    </div>
  );
});

/** Silent in this pattern only: to be seen while patterns are varied, and where it is so. */
function SilentToggle({ pad: { id, name } }: Pick<LaneHeadProps, "pad">) {
  const { patterns } = useWorkspace();
  const varying = useWorkspaceState(({ strip }) => strip === "vary");
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const silent = useOfPattern(({ silentLanes }) => silentLanes?.includes(id) ?? false);
  if (!varying && !silent) return null;
  return (
    <button
      type="button"
      className={`${styles.toggle} ${styles.silent}`}
      aria-label={`${name} silent in this pattern`}
      aria-pressed={silent}
      title="Silent in this pattern only; its hits stay"
      disabled={readOnly}
      onClick={() => patterns.toggleSilent(id)}
    >
      <VolumeMute aria-hidden />
    </button>
  );
}

function LaneToggles({ pad: { id, name, muted, soloed } }: Pick<LaneHeadProps, "pad">) {
  const workspace = useWorkspace();
  const disabled = useWorkspaceState((state) => state.readOnly);
  return (
    <MuteSolo
      {...{ name, muted, soloed, disabled }}
      className={styles.low}
      onMute={() => workspace.setPad(id, { muted: !muted })}
      onSolo={() => workspace.setPad(id, { soloed: !soloed })}
    />
  );
}
