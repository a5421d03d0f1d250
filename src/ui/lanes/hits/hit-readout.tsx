"use client";

import { useBeat, useOpenPattern, useWorkspaceState } from "../../workspace/use-workspace";
import { readHit } from "./read-hit";
import styles from "../picture/lanes.module.scss";

/** What a hit is, in words. */
export function HitText({ hitId }: { readonly hitId: number }) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const timingView = useWorkspaceState((state) => state.timingView);
  return readHit(beat, pattern, hitId, timingView);
}

export interface ReadoutProps {
  readonly x: number;
  readonly y: number;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly rowPx: number;
  readonly children: React.ReactNode;
}

/** Words beside a hit, where there is room. */
export function Readout({ x, y, widthPx, heightPx, rowPx, children }: ReadoutProps) {
  const top = y + (y < heightPx / 2 ? 0.6 * rowPx : -0.6 * rowPx - 24);
  const side = x < widthPx / 2 ? { left: x } : { right: widthPx - x };
  return (
    <div className={styles.readout} style={{ top, ...side }}>
      {children}
    </div>
  );
}
