"use client";

import { useDeferredValue } from "react";
import { advisePattern } from "@/core/analysis/pattern-advice";
import type { GridAdvice } from "@/core/analysis/grid-advice";
import { useBeat, useWorkspaceState } from "../workspace/use-workspace";
import { useScope, useScopedQuantize } from "./use-timing";

/** Which grid the hits of the panel's scope were played on; undefined where there are too few. */
export function useAdvice(): GridAdvice | undefined {
  const beat = useDeferredValue(useBeat());
  const place = useDeferredValue(useWorkspaceState((state) => state.place));
  return advisePattern(beat, place, useScope(), useScopedQuantize().grid);
}
