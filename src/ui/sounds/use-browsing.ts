"use client";

import { useEffect, useMemo, useRef } from "react";
import { takesText } from "@/inputs/computer-keys";
import type { SoundDesk } from "@/store/sounds/sound-desk";

/** Who rests so long on a sound has taken it: what is tried next is a step of its own. */
const TAKEN_MS = 30_000;
const NOTHING = { gesture: "", atMs: -Infinity };
let browsings = 0;

export interface Browsing {
  /** Sounds that are tried one after the other are one step of undo. */
  gesture(): string;
}

/** Going through sounds; Esc goes back to what was there before. */
export function useBrowsing(desk: SoundDesk): Browsing {
  const last = useRef(NOTHING);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const { gesture, atMs } = last.current;
      // A field or a menu that is left, or a sound that was taken long ago, is another matter.
      if (event.code !== "Escape" || takesText(event.target) || document.querySelector(".dropdown-menu.show")) return;
      if (performance.now() - atMs < TAKEN_MS) desk.giveBack(gesture);
      last.current = NOTHING;
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [desk]);
  return useMemo(
    () => ({
      gesture() {
        const nowMs = performance.now();
        const goesOn = nowMs - last.current.atMs < TAKEN_MS;
        last.current = { gesture: goesOn ? last.current.gesture : `sounds ${++browsings}`, atMs: nowMs };
        return last.current.gesture;
      },
    }),
    [],
  );
}
