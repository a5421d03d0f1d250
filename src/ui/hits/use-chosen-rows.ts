"use client";

import { useMemo } from "react";
import { hitRows, type HitRow } from "@/core/editing/hit-rows";
import { useBeat, useWorkspaceState } from "../workspace/use-workspace";

/** The chosen hits of the open pattern, in time; none where none are chosen, which costs nothing. */
export function useChosenRows(): readonly HitRow[] {
  const beat = useBeat();
  const place = useWorkspaceState((state) => state.place);
  const selected = useWorkspaceState((state) => state.selected);
  const any = selected.length > 0;
  const rows = useMemo(() => (any ? hitRows(beat, place) : NONE), [any, beat, place]);
  return useMemo(() => {
    const chosen = new Set(selected);
    return rows.filter(({ id }) => chosen.has(id));
  }, [rows, selected]);
}

const NONE: readonly HitRow[] = [];
