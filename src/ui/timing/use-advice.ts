"use client";

import { useEffect, useMemo, useState } from "react";
import type { PatternAdvice } from "@/core/analysis/pattern-advice";
import { useSettled } from "../common/use-settled";
import { useBeat, useWorkspaceState } from "../workspace/use-workspace";
import { useScope } from "./use-timing";

/** Which grid the hits of the panel's scope were played on, of the newest pass where that is the next hits; undefined where there are too few. */
export function useAdvice(): PatternAdvice | undefined {
  const beat = useBeat();
  const patternRef = useWorkspaceState((state) => state.patternRef);
  const scope = useScope();
  const asked = useSettled(useMemo(() => ({ beat, patternRef, scope }), [beat, patternRef, scope]));
  const [advice, setAdvice] = useState<PatternAdvice>();
  useEffect(() => {
    let wanted = true;
    // Nobody waits for it to see the page.
    void import("@/core/analysis/pattern-advice")
      .then(({ advisePattern }) => advisePattern(asked.beat, asked.patternRef, asked.scope))
      .catch(() => undefined)
      .then((found) => wanted && setAdvice(found));
    return () => void (wanted = false);
  }, [asked]);
  return advice;
}
