"use client";

import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { SampleSource } from "@/core/beat/beat";
import { waveOutline } from "@/core/sound/signal/wave-outline";
import type { OwnSample } from "@/core/sound/kits/own-sample";
import styles from "./sounds.module.scss";

const WIDTH = 600;
const HEIGHT = 120;
/** What is cut out is this long at the least. */
const LEAST_MS = 5;
const NUDGE_MS = 5;

interface WavePictureProps {
  readonly sample: OwnSample;
  readonly source: SampleSource;
  onSource(source: SampleSource, gesture?: string): void;
}

type Edge = "startFrame" | "endFrame";
let gestures = 0;

/** The wave of a sample, with the start and the end of what is heard to drag, or to move with arrow keys. */
export function WavePicture({ sample, source, onSource }: WavePictureProps) {
  const { channels, sampleRate } = sample;
  const frames = channels[0]!.length;
  const outline = useMemo(() => waveOutline(channels, WIDTH, HEIGHT), [channels]);
  const { handlers, move } = useEdges({ sample, source, onSource });
  const x = (frame: number) => (frame / frames) * WIDTH;
  const fadeFrames = Math.min((source.fadeMs * sampleRate) / 1000, source.endFrame - source.startFrame);
  // Backwards it goes out at what is its head in the picture.
  const [fadeFrom, fadeTo] = source.reversed
    ? [source.startFrame + fadeFrames, source.startFrame]
    : [source.endFrame - fadeFrames, source.endFrame];
  return (
    <svg
      className={styles.wave}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      role="group"
      aria-label={`Wave of ${source.name}`}
      {...handlers}
    >
      <path d={outline} className={styles.outline} />
      <rect x="0" width={x(source.startFrame)} height={HEIGHT} className={styles.cutOff} />
      <rect x={x(source.endFrame)} width={WIDTH - x(source.endFrame)} height={HEIGHT} className={styles.cutOff} />
      <path d={`M${x(fadeFrom)} 2L${x(fadeTo)} ${HEIGHT - 2}`} className={styles.fade} />
      {(["startFrame", "endFrame"] as const).map((edge) => (
        <EdgeHandle
          key={edge}
          edge={edge}
          x={x(source[edge])}
          frames={frames}
          sampleRate={sampleRate}
          frame={source[edge]}
          onMove={move}
        />
      ))}
    </svg>
  );
}

interface EdgeHandleProps {
  readonly edge: Edge;
  readonly x: number;
  readonly frame: number;
  readonly frames: number;
  readonly sampleRate: number;
  onMove(edge: Edge, frame: number, gesture: string): void;
}

function EdgeHandle({ edge, x, frame, frames, sampleRate, onMove }: EdgeHandleProps) {
  const nudge = (event: KeyboardEvent) => {
    const direction = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (!direction) return;
    event.preventDefault();
    const by = direction * NUDGE_MS * (event.shiftKey ? 10 : 1);
    onMove(edge, frame + (by * sampleRate) / 1000, `nudge ${edge}`);
  };
  return (
    <rect
      className={styles.edge}
      x={x - 3}
      width="6"
      height={HEIGHT}
      rx="2"
      role="slider"
      tabIndex={0}
      aria-label={edge === "startFrame" ? "Start" : "End"}
      aria-valuemin={0}
      aria-valuemax={frames}
      aria-valuenow={frame}
      aria-valuetext={`${Math.round((frame / sampleRate) * 1000)} ms`}
      onKeyDown={nudge}
    />
  );
}

/** Moving the nearer end with the pointer, either with keys; one gesture is one step of undo. */
function useEdges({ sample, source, onSource }: WavePictureProps) {
  const held = useRef<{ readonly edge: Edge; readonly gesture: string }>(undefined);
  const frames = sample.channels[0]!.length;
  const least = Math.round((LEAST_MS * sample.sampleRate) / 1000);
  const move = (edge: Edge, frame: number, gesture: string) => {
    const whole = Math.round(frame);
    const { startFrame, endFrame } = source;
    const within =
      edge === "startFrame"
        ? Math.max(0, Math.min(whole, endFrame - least))
        : Math.min(frames, Math.max(whole, startFrame + least));
    if (within !== source[edge]) onSource({ ...source, [edge]: within }, gesture);
  };
  const frameAt = ({ clientX, currentTarget }: PointerEvent<SVGSVGElement>) => {
    const { left, width } = currentTarget.getBoundingClientRect();
    return ((clientX - left) / width) * frames;
  };
  const handlers = {
    onPointerDown(event: PointerEvent<SVGSVGElement>) {
      if (!event.isPrimary) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      const frame = frameAt(event);
      const nearer =
        Math.abs(frame - source.startFrame) <= Math.abs(frame - source.endFrame) ? "startFrame" : "endFrame";
      held.current = { edge: nearer, gesture: `cut ${++gestures}` };
      move(nearer, frame, held.current.gesture);
    },
    onPointerMove(event: PointerEvent<SVGSVGElement>) {
      if (held.current) move(held.current.edge, frameAt(event), held.current.gesture);
    },
    onPointerUp: () => (held.current = undefined),
    onPointerCancel: () => (held.current = undefined),
  };
  return { handlers, move };
}
