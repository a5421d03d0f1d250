import { useCallback, useEffect, useRef, useState } from "react";

/** A list is built so many items at a time, before one gets to its end. */
const STEP = 48;
const AHEAD = "1500px";

/**
 * How much of a long list is built: the beginning, and more of it as its end comes near.
 * @returns the number of items, and a ref for what stands behind the last of them; it is there as long as there are more
 */
export function useGrownCount(total: number) {
  const [count, setCount] = useState(STEP);
  const observer = useRef<IntersectionObserver>(undefined);
  const end = useCallback((element: Element | null) => {
    observer.current?.disconnect();
    if (!element) return;
    const look = (entries: readonly IntersectionObserverEntry[]) => {
      // Where much was scrolled at once there are several, and any of them may be the one.
      if (entries.some(({ isIntersecting }) => isIntersecting)) setCount((shown) => shown + STEP);
    };
    observer.current = new IntersectionObserver(look, { rootMargin: AHEAD });
    observer.current.observe(element);
  }, []);
  useEffect(() => () => observer.current?.disconnect(), []);
  return { count: Math.min(count, total), end };
}
