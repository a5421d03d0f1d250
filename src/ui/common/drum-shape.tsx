import type { LaneFamily } from "@/core/beat/lanes";

/** The outline of each family in a box from -1 to 1, so that families differ by shape as well as by hue. */
export const OUTLINES: Readonly<Record<LaneFamily, string>> = {
  kick: "M-1,0a1,1 0 1,0 2,0a1,1 0 1,0 -2,0z",
  snare: "M-.85,-.6q0,-.25 .25,-.25h1.2q.25,0 .25,.25v1.2q0,.25 -.25,.25h-1.2q-.25,0 -.25,-.25z",
  tom: "M-.55,-.9h1.1l.5,.9l-.5,.9h-1.1l-.5,-.9z",
  hat: "M0,-1.1l1.1,1.1l-1.1,1.1l-1.1,-1.1z",
  cymbal: "M0,-1.05l1.1,1.9h-2.2z",
  pitch: "M-.3,-.75q0,-.25 .3,-.25q.3,0 .3,.25v1.5q0,.25 -.3,.25q-.3,0 -.3,-.25z",
  percussion: "M-.38,-1h.76v.62h.62v.76h-.62v.62h-.76v-.62h-.62v-.76h.62z",
};

export function familyColor(family: LaneFamily): string {
  return `var(--${family})`;
}

/** A family as a small picture of its own beside a name. */
export function DrumIcon({ family, size = 14 }: { readonly family: LaneFamily; readonly size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-1.2 -1.2 2.4 2.4" aria-hidden>
      <path d={OUTLINES[family]} fill={familyColor(family)} />
    </svg>
  );
}
