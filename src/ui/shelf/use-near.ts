import { useCallback, useEffect, useRef } from "react";

const AHEAD = "700px";

/** Hears that one comes near an element, once for each that it is given. @returns its ref */
export function useNear(onNear: () => void) {
  const observer = useRef<IntersectionObserver>(undefined);
  const latest = useRef(onNear);
  useEffect(() => void (latest.current = onNear));
  const near = useCallback((element: Element | null) => {
    observer.current?.disconnect();
    if (!element) return;
    const look = (entries: readonly IntersectionObserverEntry[]) => {
      // Where much was scrolled at once there are several, and any of them may be the one.
      if (!entries.some(({ isIntersecting }) => isIntersecting)) return;
      observer.current?.disconnect();
      latest.current();
    };
    observer.current = new IntersectionObserver(look, { rootMargin: AHEAD });
    observer.current.observe(element);
  }, []);
  useEffect(() => () => observer.current?.disconnect(), []);
  return near;
}
