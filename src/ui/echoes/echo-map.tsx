"use client";

import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { barQuarters } from "@/core/recover/meter-profile";
import { secondsAt } from "@/core/recover/pulse";
import type { Reading } from "@/core/recover/readings";
import { ticksToSeconds } from "@/core/time/tempo";
import type { Ticks } from "@/core/time/ticks";
import { straightens, type OpenEcho } from "@/store/open-echo";
import { useWorkspace } from "../workspace/use-workspace";
import { echoMarks } from "./echo-marks";
import styles from "./echoes.module.scss";

const WIDTH = 280;
const HEIGHT = 60;
/** Around what was played, as a share of it. */
const MARGIN = 0.03;

interface MapLine {
  readonly seconds: number;
  readonly strong: boolean;
}

/** The open echo in time, with the bars that it would be in, its ends to be dragged, and its downbeat. */
export function EchoMap({ open, reading }: { readonly open: OpenEcho; readonly reading: Reading | undefined }) {
  const { echoDesk } = useWorkspace();
  const box = useRef<HTMLDivElement>(null);
  const [dragged, setDragged] = useState<number>();
  const { whole, echo, from } = open;
  const lines = reading ? readingLines(reading, straightens(open, reading)) : lapLines(open);
  const first = whole.id / 1000;
  const last = whole.endMs / 1000;
  const low = Math.min(first, lines[0]?.seconds ?? first);
  const high = Math.max(last, lines.at(-1)?.seconds ?? last, low + 0.5);
  const pad = (high - low) * MARGIN;
  const share = (seconds: number) => (seconds - low + pad) / (high - low + 2 * pad);
  const secondsOf = (event: PointerEvent) => {
    const { left, width } = box.current!.getBoundingClientRect();
    return low - pad + ((event.clientX - left) / width) * (high - low + 2 * pad);
  };
  const times = whole.hits.map(({ timeMs }) => timeMs / 1000);
  const to = from + echo.hits.length;
  const nearestHit = (seconds: number) =>
    times.reduce((best, time, at) => (Math.abs(time - seconds) < Math.abs(times[best]! - seconds) ? at : best), 0);
  const x = (seconds: number) => (share(seconds) * WIDTH).toFixed(1);
  return (
    <div className={styles.map} ref={box}>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
        {lines.map(({ seconds, strong }, index) => (
          <path
            key={index}
            d={`M${x(seconds)} 0V${HEIGHT}`}
            className={strong ? styles.barLine : styles.beatLine}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        <path d={echoMarks(whole, (timeMs) => share(timeMs / 1000) * WIDTH, HEIGHT)} className={styles.left} />
        <path d={echoMarks(echo, (timeMs) => share(timeMs / 1000) * WIDTH, HEIGHT)} className={styles.kept} />
      </svg>
      <Handle
        label="First hit"
        className={`${styles.end} ${styles.firstEnd}`}
        share={share(times[from]!)}
        value={from}
        min={0}
        max={to - 1}
        text={`hit ${from + 1} of ${times.length}`}
        onStep={(by) => echoDesk.stepEnd("first", by)}
        onDrag={(event) => echoDesk.trim(Math.min(nearestHit(secondsOf(event)), to - 1), to)}
      />
      <Handle
        label="Last hit"
        className={`${styles.end} ${styles.lastEnd}`}
        share={share(times[to - 1]!)}
        value={to - 1}
        min={from}
        max={times.length - 1}
        text={`hit ${to} of ${times.length}`}
        onStep={(by) => echoDesk.stepEnd("last", by)}
        onDrag={(event) => echoDesk.trim(from, Math.max(nearestHit(secondsOf(event)), from) + 1)}
      />
      {reading && (
        <Handle
          label="Downbeat"
          className={styles.downbeat!}
          share={share(dragged ?? reading.downbeat)}
          value={Math.round((reading.downbeat - first) * 1000)}
          min={-10_000}
          max={Math.round((last - first) * 1000)}
          text={`${(reading.downbeat - first).toFixed(2)} s after the first hit`}
          onStep={(by) => echoDesk.stepDownbeat(by)}
          onDrag={(event) => setDragged(secondsOf(event))}
          onDrop={() => {
            if (dragged !== undefined) echoDesk.hint({ downbeat: dragged });
            setDragged(undefined);
          }}
        />
      )}
    </div>
  );
}

interface HandleProps {
  readonly label: string;
  readonly className: string;
  /** Where it stands, 0..1 of the picture. */
  readonly share: number;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly text: string;
  onStep(by: number): void;
  onDrag(event: PointerEvent): void;
  onDrop?(): void;
}

function Handle({ label, className, share, value, min, max, text, onStep, onDrag, onDrop }: HandleProps) {
  const press = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (!by) return;
    event.preventDefault();
    onStep(by);
  };
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuetext={text}
      title={`${label}: ${text}`}
      className={className}
      style={{ left: `${(100 * share).toFixed(2)}%` }}
      onKeyDown={press}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && onDrag(event)}
      onPointerUp={onDrop}
    />
  );
}

/** Bars and beats from the downbeat to the end. */
function readingLines(reading: Reading, straight: boolean): readonly MapLine[] {
  const bar = barQuarters(reading.meter);
  const beat = reading.meter.unit === 8 ? bar / Math.max(1, Math.round(bar / 1.5)) : 1;
  const beats = Math.round((reading.bars * bar) / beat);
  return Array.from({ length: beats + 1 }, (_, index) => ({
    seconds: secondsAt(reading, index * beat, straight),
    strong: Math.abs((index * beat) % bar) < 1e-6,
  }));
}

/** Where every lap began. */
function lapLines({ whole }: OpenEcho): readonly MapLine[] {
  const starts = new Map<number, number>();
  for (const { along, timeMs } of whole.hits)
    if (along && !starts.has(along.lap))
      starts.set(along.lap, timeMs / 1000 - ticksToSeconds(along.playedTicks as Ticks, along.bpm));
  return [...starts.values()].map((seconds) => ({ seconds, strong: true }));
}
