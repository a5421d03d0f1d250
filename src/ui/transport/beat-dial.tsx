"use client";

import { useRef, useState } from "react";
import { barTicks, pulseTicks } from "@/core/time/meter";
import { pulsesIn, readDial, type DialReading } from "@/core/time/dial-reading";
import { openLengthTicks } from "@/store/workspace";
import { useBeat, useFrame, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./beat-dial.module.scss";

const RADIUS = 44;
const CIRCUMFERENCE = 2 * Math.PI * RADIUS;
/** More marks than this would be a grey ring. */
const MAX_MARKS = 64;

/** The loop as a circle, readable from across the room: what is going on, which beat of which lap. */
export function BeatDial() {
  const workspace = useWorkspace();
  const { meter } = useBeat();
  const lengthTicks = useWorkspaceState(openLengthTicks);
  const recording = useWorkspaceState(({ transport }) => transport.recording);
  const running = useWorkspaceState(({ transport }) => transport.running);
  const [reading, setReading] = useState<DialReading>();
  const hand = useRef<SVGGElement>(null);
  const trail = useRef<SVGCircleElement>(null);

  useFrame((nowMs) => {
    const ticks = workspace.audibleTicksAt(nowMs);
    const next = ticks === undefined ? undefined : readDial(ticks, lengthTicks, meter);
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

  // Between the order to start and the first sound nothing runs yet: a count-in must not flash as recording.
  const phase =
    !running || !reading ? "stopped" : reading.countingIn ? "counting" : recording ? "recording" : "playing";
  const word = { stopped: "Stopped", counting: "Count-in", recording: "Recording", playing: "Playing" }[phase];
  const marks = pulsesIn(lengthTicks, meter);
  const perBar = Math.round(barTicks(meter) / pulseTicks(meter));
  return (
    <div className={`${styles.dial} ${styles[phase]}`}>
      <svg viewBox="-52 -52 104 104" className={styles.face} aria-hidden>
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
        <text className={styles.big} y={phase === "counting" ? -4 : -3}>
          {phase === "counting" ? reading?.beatsLeft : reading ? `${reading.bar}.${reading.beat}` : "–"}
        </text>
        <text className={styles.small} y="21">
          {phase === "counting" ? "to go" : reading ? `lap ${reading.lap}` : ""}
        </text>
      </svg>
      <span className={styles.word} role="status">
        {word}
      </span>
    </div>
  );
}
