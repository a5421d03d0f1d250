"use client";

import { useRef } from "react";
import { toLap } from "@/core/time/lap";
import { openLengthTicks } from "@/store/workspace";
import { useFrame, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { toX } from "./lane-layout";
import styles from "./lanes.module.scss";

/** The present moment: what is heard now, not what the computer is preparing. */
export function Playhead({ widthPx }: { readonly widthPx: number }) {
  const workspace = useWorkspace();
  const lengthTicks = useWorkspaceState(openLengthTicks);
  const recording = useWorkspaceState(({ transport }) => transport.recording);
  const line = useRef<HTMLDivElement>(null);
  useFrame((nowMs) => {
    const element = line.current;
    if (!element) return;
    const ticks = workspace.audibleTicksAt(nowMs);
    element.style.visibility = ticks === undefined || ticks < 0 ? "hidden" : "visible";
    if (ticks !== undefined)
      element.style.transform = `translateX(${toX(toLap(ticks, lengthTicks).loopTicks, { lengthTicks, widthPx }).toFixed(1)}px)`;
  });
  return <div ref={line} className={`${styles.playhead} ${recording ? styles.playheadRecording : ""}`} aria-hidden />;
}
