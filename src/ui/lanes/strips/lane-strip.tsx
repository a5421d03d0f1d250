"use client";

import { useWorkspace, useWorkspaceState } from "../../workspace/use-workspace";
import { EarlyLateStrip } from "./early-late-strip";
import styles from "../picture/lanes.module.scss";
import { lazyView } from "../../common/lazy-view";

const VelocityStrip = lazyView(() => import("./velocity-strip"));
const VaryStrip = lazyView(() => import("./vary-strip"));

/** Each is that high from the moment on that it is asked for. */
const HEIGHTS = { late: 37, velocity: 65, vary: 37 };

/** Under the lanes: how early and late lines were played, how hard each hit is, or what varies the pattern. */
export function LaneStrip({ widthPx }: { readonly widthPx: number }) {
  const { lanes } = useWorkspace();
  const strip = useWorkspaceState((state) => state.strip);
  return (
    <div className={styles.underRow} style={{ minHeight: HEIGHTS[strip] }}>
      <span className={styles.strips} role="group" aria-label="Under the lanes">
        <StripButton on={strip === "late"} onClick={() => lanes.showStrip("late")}>
          Early, late
        </StripButton>
        <StripButton on={strip === "velocity"} onClick={() => lanes.showStrip("velocity")}>
          Velocity
        </StripButton>
        <StripButton on={strip === "vary"} onClick={() => lanes.showStrip("vary")}>
          Vary
        </StripButton>
      </span>
      {strip === "late" && <EarlyLateStrip widthPx={widthPx} />}
      {strip === "velocity" && <VelocityStrip widthPx={widthPx} />}
      {strip === "vary" && <VaryStrip />}
    </div>
  );
}

interface StripButtonProps {
  readonly on: boolean;
  readonly children: string;
  onClick(): void;
}

function StripButton({ on, children, onClick }: StripButtonProps) {
  return (
    <button type="button" className={`${styles.toggle} ${styles.follow}`} aria-pressed={on} onClick={onClick}>
      {children}
    </button>
  );
}
