"use client";

import { useEffect, useMemo, useState } from "react";
import type { GridAdvice } from "@/core/analysis/grid-advice";
import { useSettled } from "../common/use-settled";
import { useBeat, useWorkspaceState } from "../workspace/use-workspace";
import { useScope, useScopedQuantize } from "./use-timing";

/** Which grid the hits of the panel's scope were played on; undefined where there are too few. */
export function useAdvice(): GridAdvice | undefined {
  const beat = useBeat();
  const place = useWorkspaceState((state) => state.place);
  const scope = useScope();
  const { grid } = useScopedQuantize();
  const asked = useSettled(useMemo(() => ({ beat, place, scope, grid }), [beat, place, scope, grid]));
  const [advice, setAdvice] = useState<GridAdvice>();
  useEffect(() => {
    let wanted = true;
    // Nobody waits for it to see the page.
    void import("@/core/analysis/pattern-advice")
      .then(({ advisePattern }) => advisePattern(asked.beat, asked.place, asked.scope, asked.grid))
      .catch(() => undefined)
      .then((found) => wanted && setAdvice(found));
    return () => void (wanted = false);
  }, [asked]);
  return advice;
}
