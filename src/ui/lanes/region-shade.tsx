"use client";

import { patternLengthTicks } from "@/core/beat/beat";
import { useBeat, useOpenPattern, useOpenSpan } from "../workspace/use-workspace";
import { toX } from "./lane-layout";
import styles from "./lanes.module.scss";

/** Puts what does not go round into the shade. */
export function RegionShade({ widthPx }: { readonly widthPx: number }) {
  const { meter } = useBeat();
  const pattern = useOpenPattern();
  const span = useOpenSpan();
  const lengthTicks = patternLengthTicks(pattern, meter);
  if (span.lengthTicks === lengthTicks) return null;
  const scale = { lengthTicks, widthPx };
  const right = toX(span.startTicks + span.lengthTicks, scale);
  return (
    <>
      <div className={styles.shade} style={{ left: 0, width: toX(span.startTicks, scale) }} />
      <div className={styles.shade} style={{ left: right, width: widthPx - right }} />
    </>
  );
}
