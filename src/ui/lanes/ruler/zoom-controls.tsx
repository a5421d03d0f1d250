"use client";

import { ZoomIn } from "../../icons/generated/zoom-in";
import { ZoomOut } from "../../icons/generated/zoom-out";
import { useKeyName } from "../../common/use-key-name";
import { useWorkspace, useWorkspaceState } from "../../workspace/use-workspace";
import type { LaneScale } from "../picture/lane-layout";
import styles from "../picture/lanes.module.scss";

/** From the whole loop to a beat and back, which lanes are there, and whether they go along with playback. */
export function ZoomControls({ scale }: { readonly scale: LaneScale }) {
  const workspace = useWorkspace();
  const { words: zoomKeys } = useKeyName("zoom");
  const { words: followKey } = useKeyName("follow");
  const { words: foldKey } = useKeyName("fold");
  const follow = useWorkspaceState((state) => state.follow);
  const folded = useWorkspaceState((state) => state.folded);
  const all = scale.shownTicks === scale.lengthTicks;
  return (
    <span className={styles.zoom}>
      <button
        type="button"
        className={styles.toggle}
        aria-label="Show less"
        title={`Closer (${zoomKeys})`}
        onClick={() => workspace.lanes.zoom(true)}
      >
        <ZoomIn aria-hidden />
      </button>
      <button
        type="button"
        className={styles.toggle}
        aria-label="Show more"
        title={`Further (${zoomKeys})`}
        disabled={all}
        onClick={() => workspace.lanes.zoom(false)}
      >
        <ZoomOut aria-hidden />
      </button>
      <button
        type="button"
        className={`${styles.toggle} ${styles.follow}`}
        aria-pressed={follow}
        title={`Turn the page with playback (${followKey})`}
        onClick={() => workspace.lanes.toggleFollow()}
      >
        Follow
      </button>
      <button
        type="button"
        className={`${styles.toggle} ${styles.follow}`}
        aria-pressed={folded}
        title={`Only the lanes that are used (${foldKey})`}
        onClick={() => workspace.lanes.toggleFold()}
      >
        Used
      </button>
    </span>
  );
}
