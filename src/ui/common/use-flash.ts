"use client";

import { useEffect, type RefObject } from "react";
import { useWorkspace } from "../workspace/use-workspace";

const FADE_MS = 260;
/** Opacity of the softest and the hardest stroke. */
const FAINT = 0.35;
const BRIGHT = 1;

/**
 * Lets an element light up with every stroke of a pad, or of any pad, the harder the brighter. One animation an element,
 * begun anew once a picture at most, so that a flood of strokes costs no more than a roll.
 * @param pad its id; undefined for all
 */
export function useFlash(element: RefObject<HTMLElement | null>, pad: number | undefined): void {
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
      if (pad !== undefined && hit.pad !== pad) return;
      velocity = hit.velocity;
      frame ??= requestAnimationFrame(light);
    });
    return () => {
      unsubscribe();
      if (frame !== undefined) cancelAnimationFrame(frame);
      animation.cancel();
    };
  }, [workspace, element, pad]);
}
