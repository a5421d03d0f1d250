"use client";

import { useRef } from "react";
import { useFrame } from "../workspace/use-workspace";
import styles from "./mix.module.scss";

/** From here on there is little room, and from there on none. */
export const LOUD_DB = -6;
const FULL_DB = 0;
const DRAWN_MS = 100;

/** The highest peak since it was looked at, in dBFS. */
export function HeldPeak({ name, peakOf }: { readonly name: string; peakOf(): number }) {
  const text = useRef<HTMLOutputElement>(null);
  const drawn = useRef({ peak: -1, atMs: 0 });
  // Past React: it may change with every stroke.
  useFrame((nowMs) => {
    if (nowMs - drawn.current.atMs < DRAWN_MS) return;
    const peak = peakOf();
    drawn.current.atMs = nowMs;
    if (peak === drawn.current.peak || !text.current) return;
    drawn.current.peak = peak;
    const peakDb = 20 * Math.log10(peak);
    text.current.textContent = peak === 0 ? "–" : peakDb.toFixed(1).replace("-", "−");
    text.current.dataset.level = peakDb >= FULL_DB ? "full" : peakDb >= LOUD_DB ? "loud" : "clean";
  });
  return (
    <output
      ref={text}
      className={`numerals ${styles.held}`}
      aria-label={`Highest peak of ${name}, dBFS`}
      aria-live="off"
    >
      –
    </output>
  );
}
