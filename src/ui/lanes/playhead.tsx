"use client";

import { useRef } from "react";
import { patternTicksAt } from "@/core/time/loop-span";
import { pageOf } from "@/core/time/zoom";
import { useFrame, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { toX } from "./lane-layout";
import styles from "./lanes.module.scss";
import { useLaneScale } from "./use-lane-scale";

const CLASS_OF = { off: "", practice: styles.playheadPractice, record: styles.playheadRecording };

/** The present moment: what is heard now, not what the computer is preparing. */
export function Playhead({ widthPx }: { readonly widthPx: number }) {
  const workspace = useWorkspace();
  const patternId = useWorkspaceState(({ place }) => place.patternId);
  const writing = useWorkspaceState(({ transport }) => transport.writing);
  const line = useRef<HTMLDivElement>(null);
  const scale = useLaneScale(widthPx);
  const follow = useWorkspaceState((state) => state.follow);
  useFrame((nowMs) => {
    const element = line.current;
    if (!element) return;
    const audible = workspace.playback.audibleAt(nowMs);
    const here = audible && audible.ticks >= 0 && audible.anchor.patternId === patternId;
    element.style.visibility = here ? "visible" : "hidden";
    if (!here) return;
    const ticks = patternTicksAt(audible.ticks, audible.anchor.span);
    const inside = ticks >= scale.startTicks && ticks < scale.startTicks + scale.shownTicks;
    if (!inside && follow) workspace.lanes.setZoom(pageOf(scale, ticks));
    if (!inside) element.style.visibility = "hidden";
    const x = toX(ticks, scale);
    element.style.transform = `translateX(${x.toFixed(1)}px)`;
  });
  return <div ref={line} className={`${styles.playhead} ${CLASS_OF[writing]}`} aria-hidden />;
}
