"use client";

import { useEffect, useRef } from "react";
import styles from "./level-bar.module.scss";
import { useLevelPicture } from "./level-group";
import type { PeakOf } from "./level-picture";

interface LevelBarProps {
  readonly peakOf: PeakOf;
  readonly className?: string | undefined;
}

/** How loud something is: a bar that jumps up with a peak and falls slowly, in the canvas of its group. */
export function LevelBar({ peakOf, className = "" }: LevelBarProps) {
  const picture = useLevelPicture();
  const track = useRef<HTMLSpanElement>(null);
  const latest = useRef(peakOf);
  useEffect(() => void (latest.current = peakOf));
  useEffect(() => picture.add(track.current!, (meter) => latest.current(meter)), [picture]);
  return <span ref={track} className={`${styles.track} ${className}`} aria-hidden />;
}
