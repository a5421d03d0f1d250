"use client";

import { useMemo } from "react";
import { hitRows, type HitRow } from "@/core/editing/hit-rows";
import { placesWith } from "@/core/editing/places-with";
import { useWorkspaceState } from "../workspace/use-workspace";

/** The chosen hits, pattern by pattern in time; none where none are chosen, which costs nothing. */
export function useChosenRows(): readonly HitRow[] {
  const patternRef = useWorkspaceState((state) => state.patternRef);
  const selected = useWorkspaceState((state) => state.selected);
  const beat = useWorkspaceState(({ history }) => (selected.length > 0 ? history.present : undefined));
  return useMemo(() => {
    if (!beat) return NONE;
    const chosen = new Set(selected);
    const rows = placesWith(beat, patternRef, chosen).flatMap((one) => hitRows(beat, one));
    return rows.filter(({ id }) => chosen.has(id));
  }, [beat, patternRef, selected]);
}

const NONE: readonly HitRow[] = [];
