"use client";

import { useEffect, useMemo, useRef } from "react";
import type { LaneInfo } from "@/core/beat/lanes";
import { silentLanesIn } from "@/core/timing/resolve-timing";
import { useThemed } from "../../theme/use-themed";
import { useBeat, useOpenPart, useOpenPattern, useWorkspaceState } from "../../workspace/use-workspace";
import { layoutLines, type HitMark, type LaneScale, type MaskedMark } from "./lane-layout";
import { byRow, changedRows } from "./changed-rows";
import { fitCanvas } from "./fit-canvas";
import { paintLanes, readColours, type Colours, type LanePicture as Picture } from "./lane-painter";
import styles from "./lanes.module.scss";

export interface LanePictureProps {
  readonly pads: readonly LaneInfo[];
  readonly hits: readonly HitMark[];
  readonly masked: readonly MaskedMark[];
  readonly scale: LaneScale;
  readonly heightPx: number;
}

/** Lines, pockets and hits of all lanes; thousands of hits are painted, not built of elements. */
export function LanePicture({ pads, hits, masked, scale, heightPx }: LanePictureProps) {
  const { widthPx } = scale;
  const canvas = useRef<HTMLCanvasElement>(null);
  const beat = useBeat();
  const part = useOpenPart();
  const pattern = useOpenPattern();
  const colours = useThemed(canvas, readColours);
  const painted = useRef<{ readonly picture: Picture; readonly colours: Colours }>(undefined);
  const timingView = useWorkspaceState((state) => state.timingView);
  const lines = useMemo(() => layoutLines(beat, pattern, scale, timingView), [beat, pattern, scale, timingView]);
  const lanes = useMemo(() => pads.map(({ id }) => id), [pads]);
  const hitRows = useMemo(() => byRow(hits, lanes), [hits, lanes]);

  useEffect(() => {
    if (!colours) return;
    const element = canvas.current!;
    const context = element.getContext("2d")!;
    const silent = silentLanesIn(part, pattern);
    const picture = { lines, lanes, hits: hitRows, masked: byRow(masked, lanes), silent, widthPx, heightPx };
    const fresh = fitCanvas(element, widthPx, heightPx) || painted.current?.colours !== colours;
    const rows = fresh ? undefined : changedRows(painted.current!.picture, picture);
    painted.current = { picture, colours };
    if (rows?.length !== 0) paintLanes(context, picture, colours, rows);
  }, [hitRows, masked, lines, lanes, part, pattern, widthPx, heightPx, colours]);

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
