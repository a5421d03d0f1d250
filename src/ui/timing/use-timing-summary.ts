"use client";

import { useOpenPattern } from "../workspace/use-workspace";
import { useScopedQuantize } from "./use-timing";

/** What is set, in a line. @example "1/16, 100 %, swing 58 % on 1/16, Confused Sea 80 %" */
export function useTimingSummary(): string {
  const { grid, mix = [], strength, reach } = useScopedQuantize();
  const { swing, groove } = useOpenPattern();
  const percent = (ratio: number) => `${Math.round(ratio * 100)} %`;
  return [
    grid === "off" ? "no grid" : [grid, ...mix].join(" + "),
    ...(grid === "off" ? [] : [percent(strength)]),
    ...(reach < 1 && grid !== "off" ? [`reach ${percent(reach)}`] : []),
    ...(swing ? [`swing ${percent(swing.ratio)} on ${swing.unit}`] : []),
    groove ? `${groove.groove.name} ${percent(groove.timing)}` : "no groove",
  ].join(", ");
}
