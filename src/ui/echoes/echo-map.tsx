"use client";

import { useState } from "react";
import type { Reading } from "@/core/recover/readings/reading";
import { straightens, type OpenEcho } from "@/store/state/open-echo";
import { useWorkspace } from "../workspace/use-workspace";
import { EchoHandle } from "./echo-handle";
import { echoMarks } from "./echo-marks";
import styles from "./echoes.module.scss";
import { lapLines, readingLines, type MapLine } from "./map-lines";

const WIDTH = 280;
const HEIGHT = 60;
/** Around what was played, as a share of it. */
const MARGIN = 0.03;

/** Seconds on the page's clock to shares of the picture, 0..1, and back. */
interface MapScale {
  share(seconds: number): number;
  secondsOf(share: number): number;
}

interface EchoMapProps {
  readonly open: OpenEcho;
  readonly reading: Reading | undefined;
}

/** The open echo in time, with the bars that it would be in, its ends to be dragged, and its downbeat. */
export function EchoMap({ open, reading }: EchoMapProps) {
  const lines = reading ? readingLines(reading, straightens(open, reading)) : lapLines(open);
  const scale = mapScale(open, lines);
  const x = (seconds: number) => scale.share(seconds) * WIDTH;
  return (
    <div className={styles.map}>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
        {lines.map(({ seconds, strong }, index) => (
          <path
            key={index}
            d={`M${x(seconds).toFixed(1)} 0V${HEIGHT}`}
            className={strong ? styles.barLine : styles.beatLine}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        <path d={echoMarks(open.whole, (timeMs) => x(timeMs / 1000), HEIGHT)} className={styles.left} />
        <path d={echoMarks(open.echo, (timeMs) => x(timeMs / 1000), HEIGHT)} className={styles.kept} />
      </svg>
      <EndHandles open={open} scale={scale} />
      {reading && <DownbeatHandle open={open} reading={reading} scale={scale} />}
    </div>
  );
}

function mapScale({ whole }: OpenEcho, lines: readonly MapLine[]): MapScale {
  const first = whole.id / 1000;
  const last = whole.endMs / 1000;
  const low = Math.min(first, lines[0]?.seconds ?? first);
  const high = Math.max(last, lines.at(-1)?.seconds ?? last, low + 0.5);
  const pad = (high - low) * MARGIN;
  const wide = high - low + 2 * pad;
  return {
    share: (seconds) => (seconds - low + pad) / wide,
    secondsOf: (share) => low - pad + share * wide,
  };
}

/** The first and the last hit that come back. */
function EndHandles({ open: { whole, echo, from }, scale }: { readonly open: OpenEcho; readonly scale: MapScale }) {
  const { review } = useWorkspace();
  const times = whole.hits.map(({ timeMs }) => timeMs / 1000);
  const to = from + echo.hits.length;
  const nearestHit = (share: number) => {
    const seconds = scale.secondsOf(share);
    const missed = times.map((time) => Math.abs(time - seconds));
    return missed.indexOf(Math.min(...missed));
  };
  return (
    <>
      <EchoHandle
        label="First hit"
        className={`${styles.end} ${styles.firstEnd}`}
        share={scale.share(times[from]!)}
        value={from}
        min={0}
        max={to - 1}
        text={`hit ${from + 1} of ${times.length}`}
        onStep={(by) => review.stepEnd("first", by)}
        onDrag={(share) => review.trim(Math.min(nearestHit(share), to - 1), to)}
      />
      <EchoHandle
        label="Last hit"
        className={`${styles.end} ${styles.lastEnd}`}
        share={scale.share(times[to - 1]!)}
        value={to - 1}
        min={from}
        max={times.length - 1}
        text={`hit ${to} of ${times.length}`}
        onStep={(by) => review.stepEnd("last", by)}
        onDrag={(share) => review.trim(from, Math.max(nearestHit(share), from) + 1)}
      />
    </>
  );
}

interface DownbeatHandleProps {
  readonly open: OpenEcho;
  readonly reading: Reading;
  readonly scale: MapScale;
}

function DownbeatHandle({ open: { whole }, reading: { downbeat }, scale }: DownbeatHandleProps) {
  const { readings } = useWorkspace();
  const [dragged, setDragged] = useState<number>();
  const first = whole.id / 1000;
  const drop = () => {
    if (dragged !== undefined) readings.hint({ downbeat: dragged });
    setDragged(undefined);
  };
  return (
    <EchoHandle
      label="Downbeat"
      className={styles.downbeat!}
      share={scale.share(dragged ?? downbeat)}
      value={Math.round((downbeat - first) * 1000)}
      min={-10_000}
      max={Math.round(whole.endMs - whole.id)}
      text={`${(downbeat - first).toFixed(2)} s after the first hit`}
      onStep={(by) => readings.stepDownbeat(by)}
      onDrag={(share) => setDragged(scale.secondsOf(share))}
      onDrop={drop}
    />
  );
}
