"use client";

import type { QuantizeSettings } from "@/core/beat/beat";
import { GRID_NAMES, type GridName } from "@/core/time/grid";
import { SettingSelect, type SettingSelectProps } from "../common/fields/setting-select";

const WORDS: Partial<Record<GridName, string>> = { groove: "groove's lines" };

export interface GridSelectProps extends Omit<SettingSelectProps<GridName>, "options" | "value"> {
  readonly settings: QuantizeSettings;
}

/** One of the grids, or off; what is mixed with it is named beside it. */
export function GridSelect({ settings: { grid, mix, adaptive }, ...props }: GridSelectProps) {
  const options = Object.fromEntries(
    GRID_NAMES.map((name) => [
      name,
      `${WORDS[name] ?? name}${name === grid && mix ? ` + ${mix.join(" + ")}${adaptive ? " (adaptive)" : ""}` : ""}`,
    ]),
  );
  return <SettingSelect {...props} value={grid} options={options} />;
}
