"use client";

import { useState } from "react";
import { sameItems } from "@/core/remember";

/** A list that is the same one as before as long as it has the same items: what depends on it need not be made anew. */
export function useSameItems<T>(items: readonly T[]): readonly T[] {
  const [kept, setKept] = useState(items);
  if (sameItems(kept, items)) return kept;
  setKept(items);
  return items;
}
