"use client";

import { useEffect, useState } from "react";
import { readKeyLabels, usLabel } from "@/inputs/key-labels";

/** What is printed on keys; the US layout until the browser has told its own. @param codes a list that stays the same */
export function useKeyLabels(codes: readonly string[]): readonly string[] {
  const [labels, setLabels] = useState<readonly string[]>(() => codes.map(usLabel));
  useEffect(() => {
    let left = false;
    void readKeyLabels(codes).then((read) => !left && setLabels(read));
    return () => {
      left = true;
    };
  }, [codes]);
  return labels;
}
