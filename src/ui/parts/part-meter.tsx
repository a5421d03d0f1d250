"use client";

import { useCallback, useRef } from "react";
import type { StrikeListener } from "@/store/stroke-router";
import { useFlash } from "../common/use-flash";
import { useWorkspaceState } from "../workspace/use-workspace";
import styles from "./part-strip.module.scss";

/** From here on something is seen, dB. */
const FLOOR_DB = -48;

/** How loud a part is, and a light for what is struck in it. */
export function PartMeter({ partId }: { readonly partId: number }) {
  const peak = useWorkspaceState(({ meter }) => meter.parts.find((part) => part.partId === partId)?.peak ?? 0);
  const light = useRef<HTMLSpanElement>(null);
  useFlash(
    light,
    useCallback((hit: Parameters<StrikeListener>[0]) => hit.partId === partId, [partId]),
  );
  const share = peak > 0 ? Math.max(0, Math.min(1, 1 - (20 * Math.log10(peak)) / FLOOR_DB)) : 0;
  return (
    <>
      <span ref={light} className={styles.light} aria-hidden />
      <span className={styles.meter} aria-hidden>
        <i style={{ transform: `scaleX(${share.toFixed(2)})` }} />
      </span>
    </>
  );
}
