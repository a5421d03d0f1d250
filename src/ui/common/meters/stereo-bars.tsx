"use client";

import { LevelBar } from "./level-bar";
import { LevelCanvas, LevelGroup } from "./level-group";

interface StereoBarsProps {
  /** Of the box around both, which is positioned, and of each. */
  readonly className: string | undefined;
  readonly barClassName: string | undefined;
}

/** How loud all of the music is, left over right. */
export function StereoBars({ className, barClassName }: StereoBarsProps) {
  return (
    <LevelGroup>
      <span className={className}>
        <LevelBar peakOf={({ peakLeft }) => peakLeft} className={barClassName} />
        <LevelBar peakOf={({ peakRight }) => peakRight} className={barClassName} />
        <LevelCanvas />
      </span>
    </LevelGroup>
  );
}
