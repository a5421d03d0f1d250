"use client";

import { useOpenSpan } from "../../workspace/use-workspace";
import { toX } from "../picture/lane-layout";
import styles from "../picture/lanes.module.scss";
import { useLaneScale } from "../picture/use-lane-scale";

/** Puts what does not go round into the shade. */
export function RegionShade({ widthPx }: { readonly widthPx: number }) {
  const span = useOpenSpan();
  const scale = useLaneScale(widthPx);
  if (span.lengthTicks === scale.lengthTicks) return null;
  const right = toX(span.startTicks + span.lengthTicks, scale);
  return (
    <>
      <div className={styles.shade} style={{ left: 0, width: Math.max(0, toX(span.startTicks, scale)) }} />
      <div className={styles.shade} style={{ left: right, width: Math.max(0, widthPx - right) }} />
    </>
  );
}
