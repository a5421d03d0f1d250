"use client";

import { X } from "../icons/generated/x";
import { padsOf } from "@/core/beat/lanes";
import { useBeat, useOpenPart, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** For as long as something is heard alone: what it is, and the way out. */
export function SoloSign() {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const pads = padsOf(useOpenPart());
  const { passes } = useOpenPattern();
  const { parts } = useBeat();
  const alone = [...parts, ...pads, ...passes].filter(({ soloed }) => soloed).map(({ name }) => name);
  if (alone.length === 0) return null;
  return (
    <button
      type="button"
      className={`btn btn-sm ${styles.solo}`}
      disabled={readOnly}
      aria-label={`Solo: ${alone.join(", ")}. Hear all`}
      title={`Only ${alone.join(", ")} can be heard; a click lets all be heard`}
      onClick={() => workspace.endSolo()}
    >
      Solo <X aria-hidden />
    </button>
  );
}
