import { memo } from "react";
import type { Echo } from "@/core/recover/echo";
import { echoMarks } from "./echo-marks";

const WIDTH = 120;
const HEIGHT = 24;

/** A phrase at a glance: time to the right, the pads that were struck from below, harder is larger. */
export const EchoPicture = memo(function EchoPicture(props: { readonly echo: Echo; readonly className: string }) {
  const { echo, className } = props;
  const lasts = Math.max(1, echo.endMs - echo.id);
  const xOf = (timeMs: number) => 2 + ((timeMs - echo.id) / lasts) * (WIDTH - 4);
  return (
    <svg className={className} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
      <path d={echoMarks(echo, xOf, HEIGHT)} fill="currentColor" />
    </svg>
  );
});
