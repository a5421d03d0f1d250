"use client";

import { useEffect, useState, type RefObject } from "react";

/** The width of an element in whole pixels; 0 before it is measured. */
export function useWidth(element: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry.contentRect.width)));
    observer.observe(element.current!);
    return () => observer.disconnect();
  }, [element]);
  return width;
}
