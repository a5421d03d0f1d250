"use client";

import { Plus } from "react-bootstrap-icons";
import { useKeyName } from "../common/use-key-name";
import { useBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { PartChip } from "./part-chip";
import { PartMenu } from "./part-menu";
import styles from "./part-strip.module.scss";

/** The beat's instruments: which one is open, what is heard of each, and the way to more of them. */
export function PartStrip() {
  const { parts } = useWorkspace();
  const beat = useBeat();
  const open = useWorkspaceState(({ place }) => place.partId);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const { words: nextKey } = useKeyName("nextPart");
  return (
    <section className={styles.strip} aria-label="Parts">
      <div className={styles.chips}>
        {beat.parts.map((part) => (
          <PartChip key={part.id} part={part} open={part.id === open} alone={beat.parts.length === 1} />
        ))}
      </div>
      <PartMenu />
      <button
        type="button"
        className="btn btn-sm"
        aria-label="Add a part"
        title={`Adds another kit, which loops along; ${nextKey} goes from part to part`}
        disabled={readOnly}
        onClick={() => parts.addKit()}
      >
        <Plus aria-hidden />
      </button>
    </section>
  );
}
