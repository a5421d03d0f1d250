"use client";

import { useEffect, useState, type RefObject } from "react";

/** What is read from an element's styles, and again when the theme changes: canvases and charts do not follow by themselves. */
export function useThemed<T>(element: RefObject<Element | null>, readFrom: (element: Element) => T): T | undefined {
  const [themed, setThemed] = useState<T>();
  useEffect(() => {
    const read = () => setThemed(readFrom(element.current!));
    read();
    const observer = new MutationObserver(read);
    observer.observe(document.documentElement, { attributeFilter: ["data-bs-theme"] });
    return () => observer.disconnect();
  }, [element, readFrom]);
  return themed;
}
