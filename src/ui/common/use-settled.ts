"use client";

import { useEffect, useState } from "react";

const SETTLED_MS = 350;

/** A value once it has stayed the same for a moment: for what is dear to work out and need not follow every stroke. */
export function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}
