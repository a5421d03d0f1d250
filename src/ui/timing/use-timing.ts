"use client";

import { useMemo } from "react";
import type { Pattern, QuantizeSettings } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import { lanesIn, type LaneInfo } from "@/core/beat/lanes";
import { quantizeOf, type QuantizeScope } from "@/core/beat/edits/quantize-edit";
import { quantizeScopeOf, type TimingScope } from "@/store/state/workspace-state";
import { useWorkspaceState } from "../workspace/use-workspace";

/** What the timing panel is set to, as hits of the open pattern; undefined for the next ones. */
export function useScope(): QuantizeScope | undefined {
  const scope = useWorkspaceState(({ timingScope }) => timingScope);
  const selected = useWorkspaceState((state) => state.selected);
  return useMemo(() => quantizeScopeOf(scope, selected), [scope, selected]);
}

/** The settings of that scope; those of the next hits where it has none. */
export function useScopedQuantize(): QuantizeSettings {
  const scope = useScope();
  return useWorkspaceState(({ history: { present }, patternRef }) => {
    const { passes } = findPattern(present, patternRef);
    return (scope && quantizeOf(passes, scope)) ?? present.inputQuantize;
  });
}

/** A scope as the value of a choice, and back. */
export function scopeKey(scope: TimingScope): string {
  return scope.kind === "pass" ? `pass ${scope.passId}` : scope.kind === "pad" ? `pad ${scope.pad}` : scope.kind;
}

export function scopeOf(key: string): TimingScope {
  const [kind, id] = key.split(" ");
  if (kind === "pass") return { kind, passId: Number(id) };
  if (kind === "pad") return { kind, pad: Number(id) };
  return { kind: kind as "next" };
}

/** All scopes that the open pattern has, by their keys. */
export function scopeOptions(pattern: Pattern, pads: readonly LaneInfo[], selected: number): Record<string, string> {
  const used = lanesIn(pattern);
  return {
    next: "next hits",
    ...(pattern.passes.length > 0 && { all: "all passes" }),
    ...(selected > 0 && { selected: selected === 1 ? "selected hit" : `${selected} selected hits` }),
    ...Object.fromEntries(pattern.passes.toReversed().map(({ id, name }) => [`pass ${id}`, name])),
    ...Object.fromEntries(pads.filter(({ id }) => used.has(id)).map(({ id, name }) => [`pad ${id}`, `pad: ${name}`])),
  };
}
