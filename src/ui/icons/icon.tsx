import type { ReactNode, SVGProps } from "react";

/** A picture as large as the letters beside it, in their colour. @param shapes in a square of 16 */
export function icon(shapes: ReactNode) {
  return function Icon({ className = "", ...rest }: SVGProps<SVGSVGElement>) {
    return (
      <svg viewBox="0 0 16 16" width="1em" height="1em" fill="currentColor" className={`bi ${className}`} {...rest}>
        {shapes}
      </svg>
    );
  };
}
