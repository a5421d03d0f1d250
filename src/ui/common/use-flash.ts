"use client";

import { useCallback, useEffect, type RefObject } from "react";
import type { StrikeListener } from "@/store/stroke-router";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";

const FADE_MS = 260;
/** Opacity of the softest and the hardest stroke. */
const FAINT = 0.35;
const BRIGHT = 1;

/** What is known of a stroke that was just made. */
type Struck = Parameters<StrikeListener>[0];

/** Lights up with the strokes of one lane of the open part. */
export function useLaneFlash(element: RefObject<HTMLElement | null>, lane: number): void {
  const partId = useWorkspaceState(({ place }) => place.partId);
  useFlash(
    element,
    useCallback((hit: Struck) => hit.pad === lane && hit.partId === partId, [lane, partId]),
  );
}

/**
 * Lets an element light up with strokes, the harder the brighter. One animation an element,
 * begun anew once a picture at most, so that a flood of strokes costs no more than a roll.
 * @param isOf whether a stroke lights it up; kept by the caller
 */
export function useFlash(element: RefObject<HTMLElement | null>, isOf: (hit: Struck) => boolean): void {
  const workspace = useWorkspace();
  useEffect(() => {
    const target = element.current!;
    const effect = new KeyframeEffect(target, null, FADE_MS);
    const animation = new Animation(effect);
    let velocity = 0;
    let frame: number | undefined;
    const light = () => {
      frame = undefined;
      effect.setKeyframes([{ opacity: FAINT + (BRIGHT - FAINT) * (velocity / 127) }, { opacity: 0 }]);
      animation.currentTime = 0;
      animation.play();
    };
    const unsubscribe = workspace.router.onStrike((hit) => {
      if (!isOf(hit)) return;
      velocity = hit.velocity;
      frame ??= requestAnimationFrame(light);
    });
    return () => {
      unsubscribe();
      if (frame !== undefined) cancelAnimationFrame(frame);
      animation.cancel();
    };
  }, [workspace, element, isOf]);
}
