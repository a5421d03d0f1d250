"use client";

import { useEffect, useState, type RefObject } from "react";

export interface Size {
  readonly widthPx: number;
  readonly heightPx: number;
}

/** The size of an element in pixels; zeros before it is measured. */
export function useSize(element: RefObject<HTMLElement | null>): Size {
  const [size, setSize] = useState<Size>({ widthPx: 0, heightPx: 0 });
  useEffect(() => {
    const observer = new ResizeObserver(([measured]) => {
      if (!measured) return;
      const { width, height } = measured.contentRect;
      setSize({ widthPx: Math.floor(width), heightPx: height });
    });
    observer.observe(element.current!);
    return () => observer.disconnect();
  }, [element]);
  return size;
}
