"use client";

import { useRef } from "react";
import { setText } from "../common/set-text";
import { useMoving } from "../workspace/use-workspace";
import styles from "./mix.module.scss";

/** From here on there is little room, and from there on none. */
export const LOUD_DB = -6;
const FULL_DB = 0;

/** The highest peak since it was looked at, in dBFS. */
export function HeldPeak({ name, peakOf }: { readonly name: string; peakOf(): number }) {
  const text = useRef<HTMLOutputElement>(null);
  const drawn = useRef(-1);
  // Past React: it may change with every stroke.
  useMoving(() => {
    const peak = peakOf();
    if (peak === drawn.current || !text.current) return false;
    drawn.current = peak;
    const peakDb = 20 * Math.log10(peak);
    setText(text.current, peak === 0 ? "–" : peakDb.toFixed(1).replace("-", "−"));
    text.current.dataset.level = peakDb >= FULL_DB ? "full" : peakDb >= LOUD_DB ? "loud" : "clean";
    return false;
  });
  return (
    <span className={styles.heldPlace}>
      <output
        ref={text}
        className={`numerals ${styles.held}`}
        aria-label={`Highest peak of ${name}, dBFS`}
        aria-live="off"
      >
        –
      </output>
    </span>
  );
}
