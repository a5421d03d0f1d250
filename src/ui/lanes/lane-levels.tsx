"use client";

import { useEffect, useRef } from "react";
import { fall, levelShare, SILENT_DB } from "../common/meters/fall";
import { readLevelColours, type LevelColours } from "../common/meters/level-colours";
import { meterContext } from "../common/meters/meter-canvas";
import { useThemed } from "../theme/use-themed";
import { useMoving, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./picture/lanes.module.scss";

const WIDTH_PX = 4;
/** Room between the bars of two lanes. */
const GAP_PX = 3;
/** From here on a bar is brass, and coral where it would clip. */
const LOUD_DB = -6;

interface LaneLevelsProps {
  /** The lane of each row. */
  readonly lanes: readonly number[];
  readonly heightPx: number;
}

/** How loud each lane is: bars beside their heads, all in one small picture, as they move many times a second. */
export function LaneLevels({ lanes, heightPx }: LaneLevelsProps) {
  const { levels } = useWorkspace();
  const partId = useWorkspaceState(({ patternRef }) => patternRef.partId);
  const canvas = useRef<HTMLCanvasElement>(null);
  const colours = useThemed(canvas, readLevelColours);
  /** By lane: the peaks that are not drawn yet, and what is drawn. */
  const peaks = useRef(new Map<number, number>());
  const shown = useRef({ levels: new Map<number, number>(), atMs: 0 });

  useEffect(
    () =>
      levels.onChange(() => {
        const news = levels.latest.parts.find((one) => one.partId === partId);
        // Reports come more often than is drawn: none may be missed.
        for (const { lane, peak } of news?.lanes ?? [])
          peaks.current.set(lane, Math.max(peak, peaks.current.get(lane) ?? 0));
      }),
    [levels, partId],
  );
  useMoving((nowMs) => {
    const before = shown.current;
    const resting = peaks.current.size === 0 && before.levels.size === 0;
    if (!colours || !canvas.current || resting) return false;
    const elapsedMs = nowMs - before.atMs;
    const levelsDb = lanes.map((lane) =>
      fall(before.levels.get(lane) ?? SILENT_DB, peaks.current.get(lane) ?? 0, elapsedMs),
    );
    const sounding = lanes.map((lane, row) => [lane, levelsDb[row]!] as const).filter(([, level]) => level > SILENT_DB);
    peaks.current.clear();
    shown.current = { levels: new Map(sounding), atMs: nowMs };
    drawLevels(canvas.current, levelsDb, heightPx, colours);
    return sounding.length > 0;
  });

  return (
    <canvas
      ref={canvas}
      className={styles.levels}
      style={{ gridRow: `1 / span ${lanes.length}`, width: WIDTH_PX, height: heightPx }}
      width={WIDTH_PX}
      height={1}
      aria-hidden
    />
  );
}

function drawLevels(
  canvas: HTMLCanvasElement,
  levelsDb: readonly number[],
  heightPx: number,
  { usual, loud, clipped }: LevelColours,
): void {
  const context = meterContext(canvas);
  const rowsPx = Math.max(1, Math.round(heightPx));
  // The canvas is not the page's any more, and takes its size from here.
  if (context.canvas.height !== rowsPx) context.canvas.height = rowsPx;
  const rowPx = heightPx / levelsDb.length;
  context.clearRect(0, 0, WIDTH_PX, heightPx);
  levelsDb.forEach((levelDb, row) => {
    const highPx = levelShare(levelDb) * (rowPx - 2 * GAP_PX);
    context.fillStyle = levelDb >= 0 ? clipped : levelDb >= LOUD_DB ? loud : usual;
    context.fillRect(0, (row + 1) * rowPx - GAP_PX - highPx, WIDTH_PX, highPx);
  });
}
