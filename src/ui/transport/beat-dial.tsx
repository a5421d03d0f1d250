"use client";

import { useEffect, useRef, useState, type ReactNode, type RefObject } from "react";
import { barTicks, pulseTicks } from "@/core/time/meter";
import { ticksToSeconds } from "@/core/time/tempo";
import { asTicks, wrap } from "@/core/time/ticks";
import { pulsesIn, readDial, type DialReading } from "@/core/time/dial-reading";
import { useMoving, useOfBeat, useOpenSpan, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./beat-dial.module.scss";
import { DialTurning, type TurningPart } from "./dial-turning";
import { SoloSign } from "./solo-sign";
import { PHASE_WORDS, phaseOf, type Phase } from "./phase";

const RADIUS = 44;
/** What is heard and not there: rings that go out from the middle. */
const ECHO_RADII = [26, 31, 36] as const;
/** More marks than this would be a grey ring. */
const MAX_MARKS = 64;

/** The loop as a circle, readable from across the room: what is going on, which beat of which lap. */
export function BeatDial() {
  const face = useRef<HTMLDivElement>(null);
  const reading = useDial(face);
  const phase = useWorkspaceState((state) => phaseOf(state, reading));
  const running = phase !== "stopped" && phase !== "waiting" ? reading : undefined;
  return (
    <div className={`${styles.dial} ${styles[phase]}`}>
      <div ref={face} className={styles.face} aria-hidden>
        <Layer>
          <circle r={RADIUS} className={styles.ring} />
        </Layer>
        <Layer className={styles.rightHalf} turns="right">
          <path d={`M0,${RADIUS} A${RADIUS},${RADIUS} 0 0 1 0,${-RADIUS}`} className={styles.trail} />
        </Layer>
        <Layer className={styles.leftHalf} turns="left">
          <path d={`M0,${-RADIUS} A${RADIUS},${RADIUS} 0 0 1 0,${RADIUS}`} className={styles.trail} />
        </Layer>
        <Layer>
          <DialMarks />
          <PhaseSign phase={phase} />
          <text className={styles.big} y={phase === "counting" ? -4 : -3}>
            {phase === "counting" ? reading?.beatsLeft : running ? `${running.bar}.${running.beat}` : "–"}
          </text>
          <text className={styles.small} y="21">
            {phase === "counting" ? "to go" : running ? `lap ${running.lap}` : ""}
          </text>
        </Layer>
        <Layer turns="hand">
          <circle cy={-RADIUS} r="6" className={styles.hand} />
        </Layer>
      </div>
      <div className={styles.words}>
        <span className={styles.word} role="status">
          {PHASE_WORDS[phase]}
        </span>
        <SoloSign />
      </div>
    </div>
  );
}

interface LayerProps {
  readonly className?: string | undefined;
  /** The part of the dial that it is, if it turns. */
  readonly turns?: TurningPart;
  readonly children: ReactNode;
}

/** One of the pictures that lie on each other: what turns has one of its own, so that nothing else is drawn anew. */
function Layer({ className = "", turns, children }: LayerProps) {
  return (
    <div className={`${styles.layer} ${className}`}>
      <svg viewBox="-52 -52 104 104" data-turns={turns}>
        {children}
      </svg>
    </div>
  );
}

/** Turns hand and trail. @returns what the figures say, which change once a beat */
function useDial(face: RefObject<HTMLDivElement | null>) {
  const workspace = useWorkspace();
  const meter = useOfBeat(({ meter }) => meter);
  const [reading, setReading] = useState<DialReading>();
  const [turning] = useState(() => new DialTurning());
  const nextBeat = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(
    () => () => {
      clearTimeout(nextBeat.current);
      turning.stop();
    },
    [turning],
  );
  const read = (nowMs: number) => {
    const audible = workspace.playback.audibleAt(nowMs);
    const next = audible && readDial(audible.ticks, audible.anchor.span.lengthTicks, meter);
    setReading((before) => (saysTheSame(before, next) ? before : next));
    return audible && next && { ...next, ...audible };
  };
  useMoving((nowMs) => {
    const now = read(nowMs);
    if (!now) {
      turning.stop();
      // The audio thread will say where it begins.
      return workspace.state.transport.running;
    }
    const { bpm, span } = now.anchor;
    const roundTicks = now.countingIn ? barTicks(meter) : span.lengthTicks;
    turning.follow(face.current!, now.share, 1000 * ticksToSeconds(roundTicks, bpm), nowMs);
    // The figures change on the beat, not with the next picture.
    const pulse = pulseTicks(meter);
    const toNext = asTicks(pulse - wrap(now.ticks, pulse));
    clearTimeout(nextBeat.current);
    nextBeat.current = setTimeout(() => read(performance.now()), 1000 * ticksToSeconds(toNext, bpm));
    return true;
  });
  return reading;
}

function saysTheSame(a: DialReading | undefined, b: DialReading | undefined): boolean {
  return a?.beat === b?.beat && a?.bar === b?.bar && a?.lap === b?.lap && a?.beatsLeft === b?.beatsLeft;
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
    case "stopped":
    case "counting":
    case "playing":
      return null;
    default:
      return phase satisfies never;
  }
}
