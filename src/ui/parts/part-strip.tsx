"use client";

import { LevelCanvas, LevelGroup } from "../common/meters/level-group";
import { useBeat, useWorkspaceState } from "../workspace/use-workspace";
import { AddPart } from "./add-part";
import { PartChip } from "./part-chip";
import { PartMenu } from "./part-menu";
import styles from "./part-strip.module.scss";

/** The beat's instruments: which one is open, what is heard of each, and the way to more of them. */
export function PartStrip() {
  const beat = useBeat();
  const open = useWorkspaceState(({ patternRef }) => patternRef.partId);
  return (
    <section className={styles.strip} aria-label="Parts">
      <LevelGroup>
        <div className={styles.chips}>
          {beat.parts.map((part) => (
            <PartChip key={part.id} part={part} shown={part.id === open} alone={beat.parts.length === 1} />
          ))}
          <LevelCanvas />
        </div>
      </LevelGroup>
      <PartMenu />
      <AddPart />
    </section>
  );
}
