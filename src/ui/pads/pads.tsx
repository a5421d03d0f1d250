"use client";

import { PAD_KEYS } from "@/inputs/computer-keys";
import { useKeyLabels } from "../common/use-key-labels";
import { useOpenPart } from "../workspace/use-workspace";
import { PadButton } from "./pad-button";
import styles from "./pads.module.scss";

/** Sixteen pads in the rows of their keys. */
export function Pads() {
  const part = useOpenPart();
  const labels = useKeyLabels(PAD_KEYS);
  const rows = [part.pads.slice(8, 16), part.pads.slice(0, 8)];
  return (
    <section className={styles.pads} aria-label="Pads">
      {rows.map((pads, row) => (
        <div key={row} className={styles.row}>
          {pads.map((pad) => (
            <PadButton key={pad.id} pad={pad} letter={labels[part.pads.indexOf(pad)] ?? ""} />
          ))}
        </div>
      ))}
    </section>
  );
}
