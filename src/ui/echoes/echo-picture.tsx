import { memo } from "react";
import type { Echo } from "@/core/recover/echo";

const WIDTH = 120;
const HEIGHT = 24;
const MAX_MARKS = 200;

/** A phrase at a glance: time to the right, the pads that were struck from below, harder is larger. */
export const EchoPicture = memo(function EchoPicture(props: { readonly echo: Echo; readonly className: string }) {
  const { echo, className } = props;
  const pads = [...new Set(echo.hits.map(({ pad }) => pad))].sort((a, b) => a - b);
  const row = HEIGHT / Math.max(4, pads.length);
  const lasts = Math.max(1, echo.endMs - echo.id);
  const marks = echo.hits
    .slice(0, MAX_MARKS)
    .map(({ timeMs, pad, velocity }) => {
      const x = (((timeMs - echo.id) / lasts) * (WIDTH - 4)).toFixed(1);
      const high = row * (0.35 + (0.6 * velocity) / 127);
      const y = (HEIGHT - (pads.indexOf(pad) + 0.5) * row - high / 2).toFixed(1);
      return `M${x} ${y}h2.5v${high.toFixed(1)}h-2.5z`;
    })
    .join("");
  return (
    <svg className={className} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
      <path d={marks} fill="currentColor" />
    </svg>
  );
});
