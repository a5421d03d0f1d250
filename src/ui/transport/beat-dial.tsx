"use client";

import { useRef, useState } from "react";
import { barTicks, pulseTicks } from "@/core/time/meter";
import { pulsesIn, readDial, type DialReading } from "@/core/time/dial-reading";
import { useBeat, useFrame, useOpenSpan, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./beat-dial.module.scss";
import { SoloSign } from "./solo-sign";
import { PHASE_WORDS, phaseOf } from "./phase";

const RADIUS = 44;
const CIRCUMFERENCE = 2 * Math.PI * RADIUS;
/** What is heard and not there: rings that go out from the middle. */
const ECHO_RADII = [26, 31, 36] as const;
/** More marks than this would be a grey ring. */
const MAX_MARKS = 64;

/** The loop as a circle, readable from across the room: what is going on, which beat of which lap. */
export function BeatDial() {
  const workspace = useWorkspace();
  const { meter } = useBeat();
  const { lengthTicks } = useOpenSpan();
  const [reading, setReading] = useState<DialReading>();
  const phase = useWorkspaceState((state) => phaseOf(state, reading));
  const hand = useRef<SVGGElement>(null);
  const trail = useRef<SVGCircleElement>(null);

  useFrame((nowMs) => {
    const audible = workspace.playback.audibleAt(nowMs);
    const next = audible && readDial(audible.ticks, audible.anchor.span.lengthTicks, meter);
    hand.current?.setAttribute("transform", `rotate(${((next?.share ?? 0) * 360).toFixed(2)})`);
    trail.current?.setAttribute("stroke-dashoffset", ((1 - (next?.share ?? 0)) * CIRCUMFERENCE).toFixed(2));
    if (
      next?.beat !== reading?.beat ||
      next?.bar !== reading?.bar ||
      next?.lap !== reading?.lap ||
      next?.beatsLeft !== reading?.beatsLeft
    ) {
      setReading(next);
    }
  });

  const marks = pulsesIn(lengthTicks, meter);
  const perBar = Math.round(barTicks(meter) / pulseTicks(meter));
  const running = phase !== "stopped" && phase !== "waiting" ? reading : undefined;
  return (
    <div className={`${styles.dial} ${styles[phase]}`}>
      <svg viewBox="-52 -52 104 104" className={styles.face} aria-hidden>
        <defs>
          <pattern id="erase-hatch" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="4" height="9" className={styles.hatch} />
          </pattern>
        </defs>
        <circle r={RADIUS} className={styles.ring} />
        <circle
          ref={trail}
          r={RADIUS}
          className={styles.trail}
          strokeDasharray={CIRCUMFERENCE}
          transform="rotate(-90)"
        />
        {marks <= MAX_MARKS &&
          Array.from({ length: marks }, (_, index) => (
            <line
              key={index}
              y1={-RADIUS - (index % perBar === 0 ? 7 : 3)}
              y2={-RADIUS + (index % perBar === 0 ? 7 : 3)}
              className={index % perBar === 0 ? styles.barMark : styles.mark}
              transform={`rotate(${(index * 360) / marks})`}
            />
          ))}
        <g ref={hand}>
          <circle cy={-RADIUS} r="6" className={styles.hand} />
        </g>
        {phase === "recording" && <circle r="33" className={styles.disc} />}
        {phase === "waiting" && <circle r="31" className={styles.hollow} />}
        {phase === "practice" && <circle r="33" className={styles.practiceDisc} />}
        {phase === "echo" && ECHO_RADII.map((radius) => <circle key={radius} r={radius} className={styles.echoRing} />)}
        {phase === "erasing" && <circle r="35" fill="url(#erase-hatch)" />}
        <text className={styles.big} y={phase === "counting" ? -4 : -3}>
          {phase === "counting" ? reading?.beatsLeft : running ? `${running.bar}.${running.beat}` : "–"}
        </text>
        <text className={styles.small} y="21">
          {phase === "counting" ? "to go" : running ? `lap ${running.lap}` : ""}
        </text>
      </svg>
      <div className={styles.words}>
        <span className={styles.word} role="status">
          {PHASE_WORDS[phase]}
        </span>
        <SoloSign />
      </div>
    </div>
  );
}
