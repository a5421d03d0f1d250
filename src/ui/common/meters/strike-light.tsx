"use client";

import { useCallback, useEffect, useRef } from "react";
import type { StrikeListener } from "@/store/input/stroke-router";
import { useMoving, useWorkspace, useWorkspaceState } from "../../workspace/use-workspace";
import styles from "./strike-light.module.scss";

const FADE_MS = 260;
/** Opacity of the softest and the hardest stroke. */
const FAINT = 0.35;
const BRIGHT = 1;

/** What is known of a stroke that was just made. */
type Struck = Parameters<StrikeListener>[0];

/** Lights up with the strokes of one lane of the open part. */
export function LaneLight({ lane }: { readonly lane: number }) {
  const partId = useWorkspaceState(({ patternRef }) => patternRef.partId);
  return <StrikeLight isOf={useCallback((hit) => hit.lane === lane && hit.partId === partId, [lane, partId])} />;
}

/**
 * Lets the box around it light up with strokes, the harder the brighter. It is painted while it fades: an animation of the
 * browser's would put every light on a layer of its own, which costs more than the stroke that lit it.
 * @param isOf whether a stroke lights it up; kept by the caller
 */
export function StrikeLight({ isOf }: { readonly isOf: (hit: Struck) => boolean }) {
  const workspace = useWorkspace();
  const light = useRef<HTMLSpanElement>(null);
  const glow = useRef({ velocity: 0, struckMs: -FADE_MS, shown: 0 });
  const draw = useCallback((nowMs: number) => {
    const { velocity, struckMs, shown } = glow.current;
    const left = Math.max(0, 1 - (nowMs - struckMs) / FADE_MS);
    const brightness = left && left * (FAINT + (BRIGHT - FAINT) * (velocity / 127));
    if (brightness !== shown && light.current) {
      light.current.style.backgroundColor = `color-mix(in srgb, var(--flash) ${(100 * brightness).toFixed(0)}%, transparent)`;
      glow.current.shown = brightness;
    }
    return brightness > 0;
  }, []);
  useEffect(
    () =>
      workspace.router.onStrike((hit) => {
        if (!isOf(hit)) return;
        const struckMs = performance.now();
        glow.current = { ...glow.current, velocity: hit.velocity, struckMs };
        // At once: a light that waits for the next picture of what moves is late.
        draw(struckMs);
      }),
    [workspace, isOf, draw],
  );
  useMoving(draw);
  return <span ref={light} className={styles.light} aria-hidden />;
}
