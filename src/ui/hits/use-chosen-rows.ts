"use client";

import { useMemo } from "react";
import { hitRows, type HitRow } from "@/core/editing/hit-rows";
import { useWorkspaceState } from "../workspace/use-workspace";

/** The chosen hits of the open pattern, in time; none where none are chosen, which costs nothing. */
export function useChosenRows(): readonly HitRow[] {
  const place = useWorkspaceState((state) => state.place);
  const selected = useWorkspaceState((state) => state.selected);
  const beat = useWorkspaceState(({ history }) => (selected.length > 0 ? history.present : undefined));
  const rows = useMemo(() => (beat ? hitRows(beat, place) : NONE), [beat, place]);
  return useMemo(() => {
    const chosen = new Set(selected);
    return rows.filter(({ id }) => chosen.has(id));
  }, [rows, selected]);
}

const NONE: readonly HitRow[] = [];
