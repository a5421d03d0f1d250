"use client";

import { useRef, useState, type RefObject } from "react";
import { barTicks, pulseTicks } from "@/core/time/meter";
import { pulsesIn, readDial, type DialReading } from "@/core/time/dial-reading";
import { useFrame, useOfBeat, useOpenSpan, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./beat-dial.module.scss";
import { SoloSign } from "./solo-sign";
import { PHASE_WORDS, phaseOf, type Phase } from "./phase";

const RADIUS = 44;
const CIRCUMFERENCE = 2 * Math.PI * RADIUS;
/** What is heard and not there: rings that go out from the middle. */
const ECHO_RADII = [26, 31, 36] as const;
/** More marks than this would be a grey ring. */
const MAX_MARKS = 64;

/** The loop as a circle, readable from across the room: what is going on, which beat of which lap. */
export function BeatDial() {
  const hand = useRef<SVGGElement>(null);
  const trail = useRef<SVGCircleElement>(null);
  const reading = useDial(hand, trail);
  const phase = useWorkspaceState((state) => phaseOf(state, reading));
  const running = phase !== "stopped" && phase !== "waiting" ? reading : undefined;
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
        <DialMarks />
        <g ref={hand}>
          <circle cy={-RADIUS} r="6" className={styles.hand} />
        </g>
        <PhaseSign phase={phase} />
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

/** Turns the hand with every picture. @returns what the figures say, which change once a beat */
function useDial(hand: RefObject<SVGGElement | null>, trail: RefObject<SVGCircleElement | null>) {
  const workspace = useWorkspace();
  const meter = useOfBeat(({ meter }) => meter);
  const [reading, setReading] = useState<DialReading>();
  const drawnShare = useRef<number>(undefined);
  useFrame((nowMs) => {
    const audible = workspace.playback.audibleAt(nowMs);
    const next = audible && readDial(audible.ticks, audible.anchor.span.lengthTicks, meter);
    const share = next?.share ?? 0;
    // What is set anew is drawn anew, also where it is the same.
    if (share !== drawnShare.current) {
      drawnShare.current = share;
      hand.current?.setAttribute("transform", `rotate(${(share * 360).toFixed(2)})`);
      trail.current?.setAttribute("stroke-dashoffset", ((1 - share) * CIRCUMFERENCE).toFixed(2));
    }
    if (
      next?.beat !== reading?.beat ||
      next?.bar !== reading?.bar ||
      next?.lap !== reading?.lap ||
      next?.beatsLeft !== reading?.beatsLeft
    ) {
      setReading(next);
    }
  });
  return reading;
}

/** A stroke a beat, a longer one a bar. */
function DialMarks() {
  const meter = useOfBeat(({ meter }) => meter);
  const { lengthTicks } = useOpenSpan();
  const marks = pulsesIn(lengthTicks, meter);
  const perBar = Math.round(barTicks(meter) / pulseTicks(meter));
  if (marks > MAX_MARKS) return null;
  return Array.from({ length: marks }, (_, index) => {
    const reach = index % perBar === 0 ? 7 : 3;
    return (
      <line
        key={index}
        y1={-RADIUS - reach}
        y2={-RADIUS + reach}
        className={index % perBar === 0 ? styles.barMark : styles.mark}
        transform={`rotate(${(index * 360) / marks})`}
      />
    );
  });
}

/** What is going on, by shape as well as by colour. */
function PhaseSign({ phase }: { readonly phase: Phase }) {
  switch (phase) {
    case "recording":
      return <circle r="33" className={styles.disc} />;
    case "waiting":
      return <circle r="31" className={styles.hollow} />;
    case "practice":
      return <circle r="33" className={styles.practiceDisc} />;
    case "echo":
      return ECHO_RADII.map((radius) => <circle key={radius} r={radius} className={styles.echoRing} />);
    case "erasing":
      return (
        <>
          <defs>
            <pattern id="erase-hatch" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="4" height="9" className={styles.hatch} />
            </pattern>
          </defs>
          <circle r="35" fill="url(#erase-hatch)" />
        </>
      );
    default:
      return null;
  }
}
