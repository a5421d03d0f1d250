"use client";

import { useRef } from "react";
import { patternLengthTicks } from "@/core/beat/beat";
import { patternTicksAt } from "@/core/time/loop-span";
import { useBeat, useFrame, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { toX } from "./lane-layout";
import styles from "./lanes.module.scss";

const CLASS_OF = { off: "", practice: styles.playheadPractice, record: styles.playheadRecording };

/** The present moment: what is heard now, not what the computer is preparing. */
export function Playhead({ widthPx }: { readonly widthPx: number }) {
  const workspace = useWorkspace();
  const { meter } = useBeat();
  const pattern = useOpenPattern();
  const writing = useWorkspaceState(({ transport }) => transport.writing);
  const line = useRef<HTMLDivElement>(null);
  const lengthTicks = patternLengthTicks(pattern, meter);
  useFrame((nowMs) => {
    const element = line.current;
    if (!element) return;
    const audible = workspace.playback.audibleAt(nowMs);
    const here = audible && audible.ticks >= 0 && audible.anchor.patternId === pattern.id;
    element.style.visibility = here ? "visible" : "hidden";
    if (!here) return;
    const x = toX(patternTicksAt(audible.ticks, audible.anchor.span), { lengthTicks, widthPx });
    element.style.transform = `translateX(${x.toFixed(1)}px)`;
  });
  return <div ref={line} className={`${styles.playhead} ${CLASS_OF[writing]}`} aria-hidden />;
}
