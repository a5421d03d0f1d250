"use client";

import { useEffect, useRef, useState } from "react";
import { patternTicksAt, type LoopSpan } from "@/core/time/loop-span";
import { ticksToSeconds } from "@/core/time/tempo";
import { pageOf } from "@/core/time/zoom";
import { LoopMotion } from "../common/loop-motion";
import { useMoving, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { toX, type LaneScale } from "./picture/lane-layout";
import styles from "./picture/lanes.module.scss";
import { useLaneScale } from "./picture/use-lane-scale";

const CLASS_OF = { off: "", practice: styles.playheadPractice, record: styles.playheadRecording };

/** The present moment: what is heard now, not what the computer is preparing. */
export function Playhead({ widthPx }: { readonly widthPx: number }) {
  const workspace = useWorkspace();
  const patternId = useWorkspaceState(({ patternRef }) => patternRef.patternId);
  const writing = useWorkspaceState(({ transport }) => transport.writing);
  const line = useRef<HTMLDivElement>(null);
  const scale = useLaneScale(widthPx);
  const follow = useWorkspaceState((state) => state.follow);
  const [motion] = useState(() => new LoopMotion());
  useEffect(() => () => motion.stop(), [motion]);
  const way = useRef<LapWay>(undefined);
  useMoving((nowMs) => {
    const audible = workspace.playback.audibleAt(nowMs);
    const here = line.current && audible && audible.ticks >= 0 && audible.anchor.patternId === patternId;
    if (!here) {
      motion.stop();
      line.current?.style.setProperty("visibility", "hidden");
      return workspace.state.transport.running;
    }
    const { span, bpm } = audible.anchor;
    const ticks = patternTicksAt(audible.ticks, span);
    const inside = ticks >= scale.startTicks && ticks < scale.startTicks + scale.shownTicks;
    if (!inside && follow) workspace.lanes.setZoom(pageOf(scale, ticks));
    if (way.current?.scale !== scale || !sameSpan(way.current.span, span)) way.current = lapWay(span, scale);
    const durationMs = 1000 * ticksToSeconds(span.lengthTicks, bpm);
    const share = (ticks - span.startTicks) / span.lengthTicks;
    motion.follow(line.current!, { keyframes: way.current.keyframes, durationMs }, share, nowMs);
    line.current!.style.setProperty("visibility", "visible");
    return true;
  });
  return (
    <div className={styles.playheadRoom} aria-hidden>
      <div ref={line} className={`${styles.playhead} ${CLASS_OF[writing]}`} />
    </div>
  );
}

/** The way of a lap over the lanes. */
interface LapWay {
  readonly span: LoopSpan;
  readonly scale: LaneScale;
  readonly keyframes: Keyframe[];
}

function lapWay(span: LoopSpan, scale: LaneScale): LapWay {
  const ends = [span.startTicks, span.startTicks + span.lengthTicks];
  const keyframes = ends.map((ticks) => ({ transform: `translateX(${toX(ticks, scale).toFixed(1)}px)` }));
  return { span, scale, keyframes };
}

function sameSpan(a: LoopSpan, b: LoopSpan): boolean {
  return a.startTicks === b.startTicks && a.lengthTicks === b.lengthTicks;
}
