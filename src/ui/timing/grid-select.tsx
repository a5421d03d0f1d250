"use client";

import { GRID_NAMES, type GridName } from "@/core/time/grid";
import { SettingSelect, type SettingSelectProps } from "../common/setting-select";

const GRIDS = Object.fromEntries(GRID_NAMES.map((name) => [name, name]));

/** One of the grids, or off. */
export function GridSelect(props: Omit<SettingSelectProps<GridName>, "options">) {
  return <SettingSelect {...props} options={GRIDS} />;
}
