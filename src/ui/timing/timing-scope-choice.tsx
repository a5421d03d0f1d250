"use client";

import { useMemo } from "react";
import { SettingSelect } from "../common/fields/setting-select";
import { useOpenPattern, useUsedLanes, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { scopeKey, scopeOf, scopeOptions } from "./use-timing";

/** Which hits the timing is about: the next ones, or some that are there. */
export function TimingScopeChoice() {
  const workspace = useWorkspace();
  const pattern = useOpenPattern();
  const pads = useUsedLanes();
  const selected = useWorkspaceState((state) => state.selected.length);
  const scope = useWorkspaceState(({ timingScope }) => timingScope);
  const options = useMemo(() => scopeOptions(pattern, pads, selected), [pattern, pads, selected]);
  const key = scopeKey(scope);
  return (
    <SettingSelect
      label="Timing of"
      hideLabel
      value={key in options ? key : "next"}
      options={options}
      onChange={(chosen) => workspace.timing.setScope(scopeOf(chosen))}
    />
  );
}
