"use client";

import { isBlackKey, type LaneInfo } from "@/core/beat/lanes";
import { isErased } from "@/store/state/workspace-state";
import { DrumIcon, familyColor } from "../common/drum-shape";
import { LaneLight } from "../common/meters/strike-light";
import { useWorkspaceState } from "../workspace/use-workspace";
import styles from "./pads.module.scss";
import { usePadHands } from "./use-pad-hands";

export interface PadButtonProps {
  /** What it strikes: nothing, a drum, a note, or the notes of a chord, the lowest first. */
  readonly lanes: readonly LaneInfo[];
  /** What is printed on its key. */
  readonly letter: string;
  /** Name of the chord that its notes make. */
  readonly chord?: string | undefined;
}

/** One pad: struck by pointer or touch, by its letter anywhere on the page, or by Space or Enter when it has the focus. */
export function PadButton({ lanes, letter, chord }: PadButtonProps) {
  const [first, ...others] = lanes;
  const erased = useWorkspaceState((state) => lanes.some(({ id }) => isErased(state, id)));
  const asked = useWorkspaceState(
    ({ midi: { learning } }) => learning?.kind === "pad" && lanes.some(({ id }) => id === learning.pad),
  );
  const hands = usePadHands(lanes.map(({ id }) => id));
  if (!first) return <span className={styles.none} aria-hidden />;
  const notes = lanes.map((one) => one.name).join(" ");
  const name = chord ? `${chord}: ${notes}` : notes;
  return (
    <button
      type="button"
      className={`${styles.pad} ${isBlackKey(first) ? styles.black : ""} ${erased ? styles.erased : ""} ${asked ? styles.asked : ""}`}
      style={{ borderBottomColor: familyColor(first.family) }}
      aria-label={name}
      data-lane={first.id}
      aria-keyshortcuts={letter || undefined}
      {...hands}
    >
      <LaneLight lane={first.id} />
      <kbd className={styles.letter}>{letter}</kbd>
      <span className={styles.name} title={name}>
        {first.family !== "pitch" && <DrumIcon family={first.family} size={12} />} {chord ?? first.name}
        {others.length > 0 && <small> {(chord ? lanes : others).map((one) => one.name).join(" ")}</small>}
      </span>
    </button>
  );
}
