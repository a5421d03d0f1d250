"use client";

import { useEffect, useMemo, useRef } from "react";
import type { LaneInfo } from "@/core/beat/lanes";
import { silencedLanes } from "@/core/timing/heard";
import { useThemed } from "../theme/use-themed";
import { useBeat, useOpenPart, useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import { layoutLines, layoutMasked, type HitMark, type LaneScale } from "./lane-layout";
import { paintLanes, readColours } from "./lane-painter";
import styles from "./lanes.module.scss";

export interface LanePictureProps {
  readonly pads: readonly LaneInfo[];
  readonly hits: readonly HitMark[];
  readonly scale: LaneScale;
  readonly heightPx: number;
}

/** Lines, pockets and hits of all lanes; thousands of hits are painted, not built of elements. */
export function LanePicture({ pads, hits, scale, heightPx }: LanePictureProps) {
  const { widthPx } = scale;
  const canvas = useRef<HTMLCanvasElement>(null);
  const beat = useBeat();
  const part = useOpenPart();
  const pattern = useOpenPattern();
  const colours = useThemed(canvas, readColours);
  const hearing = useWorkspaceState((state) => state.hearing);
  const masked = useMemo(() => layoutMasked(pattern, scale), [pattern, scale]);
  const lines = useMemo(() => layoutLines(beat, pattern, scale, hearing), [beat, pattern, scale, hearing]);

  useEffect(() => {
    if (!colours) return;
    const element = canvas.current!;
    const scale = window.devicePixelRatio || 1;
    element.width = Math.round(widthPx * scale);
    element.height = Math.round(heightPx * scale);
    const context = element.getContext("2d")!;
    context.scale(scale, scale);
    const picture = {
      lines,
      hits,
      masked,
      rowOf: new Map(pads.map(({ id }, row) => [id, row])),
      silent: silencedLanes(part),
      rows: pads.length,
      widthPx,
      heightPx,
    };
    paintLanes(context, picture, colours);
  }, [hits, masked, lines, pads, part, widthPx, heightPx, colours]);

  const count = hits.length;
  const doubles = masked.length > 0 ? `, ${masked.length} double triggers` : "";
  return (
    <canvas
      ref={canvas}
      className={styles.picture}
      role="img"
      aria-label={`${count} ${count === 1 ? "hit" : "hits"} in ${pattern.bars} ${pattern.bars === 1 ? "bar" : "bars"}${doubles}`}
    />
  );
}
