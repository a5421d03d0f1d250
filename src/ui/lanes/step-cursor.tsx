"use client";

import { feelWarp } from "@/core/timing/feel-warp";
import { warpTicks } from "@/core/time/warp";
import { useOfBeat, useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import { toX } from "./picture/lane-layout";
import styles from "./picture/lanes.module.scss";
import { useLaneScale } from "./picture/use-lane-scale";

/** Where the next step goes, over all lanes. */
export function StepCursor({ widthPx }: { readonly widthPx: number }) {
  const on = useWorkspaceState(({ step }) => step.on);
  return on && widthPx > 0 ? <Cursor widthPx={widthPx} /> : null;
}

function Cursor({ widthPx }: { readonly widthPx: number }) {
  const at = useWorkspaceState(({ step }) => step.at);
  const meter = useOfBeat((beat) => beat.meter);
  const pattern = useOpenPattern();
  const scale = useLaneScale(widthPx);
  const x = toX(warpTicks(feelWarp(pattern, meter), at), scale);
  return <div className={styles.stepCursor} style={{ transform: `translateX(${x}px)` }} aria-hidden />;
}
