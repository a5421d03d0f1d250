"use client";

import { useEffect, useRef, type RefObject } from "react";

/**
 * The wheel over a field.
 * @param isMeant where it is not, the wheel scrolls the page
 * @param turn is given 1 for up and -1 for down
 */
export function useWheel(
  input: RefObject<HTMLInputElement | null>,
  isMeant: (field: HTMLInputElement) => boolean,
  turn: (direction: 1 | -1) => void,
): void {
  const latest = useRef({ isMeant, turn });
  useEffect(() => {
    latest.current = { isMeant, turn };
  });
  useEffect(() => {
    const field = input.current!;
    // React's own wheel listener is passive and could not keep the page from scrolling.
    const wheel = (event: WheelEvent) => {
      if (!latest.current.isMeant(field)) return;
      event.preventDefault();
      latest.current.turn(event.deltaY < 0 ? 1 : -1);
    };
    field.addEventListener("wheel", wheel, { passive: false });
    return () => field.removeEventListener("wheel", wheel);
  }, [input]);
}
