"use client";

import { useCallback } from "react";
import { LevelBar } from "../common/meters/level-bar";
import { StrikeLight } from "../common/meters/strike-light";
import styles from "./part-strip.module.scss";

/** How loud a part is, and a light for what is struck in it. */
export function PartMeter({ partId }: { readonly partId: number }) {
  return (
    <>
      <StrikeLight isOf={useCallback((hit) => hit.partId === partId, [partId])} />
      <LevelBar
        peakOf={({ parts }) => parts.find((part) => part.partId === partId)?.peak ?? 0}
        className={styles.meter}
      />
    </>
  );
}
