"use client";

import type { LaneInfo } from "@/core/beat/lanes";
import { isErased } from "@/store/workspace/workspace-state";
import { DrumIcon, familyColor } from "../common/drum-shape";
import { LaneLight } from "../common/strike-light";
import { useWorkspaceState } from "../workspace/use-workspace";
import styles from "./pads.module.scss";
import { usePadHands } from "./use-pad-hands";

export interface PadButtonProps {
  /** What it strikes: nothing, a drum, a note, or the notes of a chord, the lowest first. */
  readonly lanes: readonly LaneInfo[];
  /** What is printed on its key. */
  readonly letter: string;
}

/** One pad: struck by pointer or touch, by its letter anywhere on the page, or by Space or Enter when it has the focus. */
export function PadButton({ lanes, letter }: PadButtonProps) {
  const [first, ...others] = lanes;
  const erased = useWorkspaceState((state) => lanes.some(({ id }) => isErased(state, id)));
  const hands = usePadHands(lanes.map(({ id }) => id));
  if (!first) return <span className={styles.none} aria-hidden />;
  const name = lanes.map((one) => one.name).join(" ");
  return (
    <button
      type="button"
      className={`${styles.pad} ${erased ? styles.erased : ""}`}
      style={{ borderBottomColor: familyColor(first.family) }}
      aria-label={name}
      data-lane={first.id}
      aria-keyshortcuts={letter || undefined}
      {...hands}
    >
      <LaneLight lane={first.id} />
      <kbd className={styles.letter}>{letter}</kbd>
      <span className={styles.name} title={name}>
        {first.family !== "pitch" && <DrumIcon family={first.family} size={12} />} {first.name}
        {others.length > 0 && <small> {others.map((one) => one.name).join(" ")}</small>}
      </span>
    </button>
  );
}
