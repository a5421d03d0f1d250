"use client";

import { chordName } from "@/core/beat/chord-name";
import { findLane, keyLanes, KEYS } from "@/core/beat/lanes";
import { PAD_KEYS } from "@/inputs/computer-keys";
import { useKeyLabels } from "../common/use-key-labels";
import { useOpenInstrument, useWorkspaceState } from "../workspace/use-workspace";
import { PadButton } from "./pad-button";
import styles from "./pads.module.scss";

const ROWS = [
  Array.from({ length: KEYS / 2 }, (_, at) => at + KEYS / 2),
  Array.from({ length: KEYS / 2 }, (_, at) => at),
];

/** Sixteen pads in the rows of their keys: drums, notes, or chords. */
export function Pads() {
  const part = useOpenInstrument();
  const octaves = useWorkspaceState((state) => state.octaves[part.id] ?? 0);
  const labels = useKeyLabels(PAD_KEYS);
  return (
    <section className={styles.pads} aria-label="Pads">
      {ROWS.map((keys, row) => (
        <div key={row} className={styles.row}>
          {keys.map((key) => {
            const lanes = keyLanes(part, key, octaves).map((lane) => findLane(part, lane)!);
            const chord =
              lanes.length > 1 && part.kind === "tonal"
                ? chordName(
                    lanes.map(({ note }) => note),
                    part.scale,
                  )
                : undefined;
            return <PadButton key={key} lanes={lanes} letter={labels[key] ?? ""} chord={chord} />;
          })}
        </div>
      ))}
    </section>
  );
}
