"use client";

import { useMemo, useState } from "react";
import type { LaneInfo } from "@/core/beat/lanes";
import { useBeat, useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import { HitField } from "./hits/hit-field";
import { hitLayouter, layoutMasked, type HitMark, type MaskedMark } from "./picture/lane-layout";
import { LanePicture } from "./picture/lane-picture";
import { useLaneScale } from "./picture/use-lane-scale";
import { lazyView } from "../common/lazy-view";

const DifferencePicture = lazyView(() => import("./strips/difference-picture"));

export interface LaneFieldProps {
  readonly pads: readonly LaneInfo[];
  readonly widthPx: number;
  readonly heightPx: number;
}

/** The hits of all lanes, painted, and what takes the pointer to them. */
export function LaneField({ pads, widthPx, heightPx }: LaneFieldProps) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const timingView = useWorkspaceState((state) => state.timingView);
  const scale = useLaneScale(widthPx);
  const varying = useWorkspaceState(({ strip }) => strip === "vary") && pattern.alternateOf !== undefined;
  const [layout] = useState(hitLayouter);
  const hits = useMemo(
    () => (widthPx > 0 ? layout(beat, pads, pattern, scale, timingView) : []),
    [layout, beat, pads, pattern, scale, timingView, widthPx],
  );
  const masked = useMemo(() => layoutMasked(pattern, scale), [pattern, scale]);
  const pointed = useMemo(() => (masked.length > 0 ? [...hits, ...masked.map(asHit)] : hits), [hits, masked]);
  return (
    <>
      {widthPx > 0 && <LanePicture pads={pads} hits={hits} masked={masked} scale={scale} heightPx={heightPx} />}
      {varying && <DifferencePicture pads={pads} scale={scale} heightPx={heightPx} />}
      <HitField pads={pads} hits={pointed} scale={scale} heightPx={heightPx} />
    </>
  );
}

/** A double trigger can be pointed at and chosen like any hit. */
function asHit({ id, lane, x }: MaskedMark): HitMark {
  return { id, lane, family: "percussion", x, playedX: x, size: 0.42, opacity: 1, duplicateOnLine: true };
}
