import { pulseTempi } from "@/core/recover/pulse/pulse";
import type { Reading } from "@/core/recover/readings/reading";
import styles from "./echoes.module.scss";

const WIDTH = 90;
const HEIGHT = 22;
/** The picture reaches to so much faster and slower than the mean, or as far as it must. */
const LEAST_SHARE = 0.03;

/** The tempo from beginning to end; its mean is the line in the middle, faster is up. */
export function DriftCurve({ reading }: { readonly reading: Reading }) {
  const shares = pulseTempi(reading.pulse).map((bpm) => bpm / reading.bpm - 1);
  const most = shares.reduce((far, share) => Math.max(far, Math.abs(share)), LEAST_SHARE);
  const points = shares.map((share, index) => {
    const x = (index / Math.max(1, shares.length - 1)) * WIDTH;
    return `${x.toFixed(1)},${((HEIGHT / 2) * (1 - (0.9 * share) / most)).toFixed(1)}`;
  });
  return (
    <svg className={styles.curve} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
      <path d={`M0 ${HEIGHT / 2}H${WIDTH}`} stroke="var(--rule)" fill="none" />
      <polyline points={points.join(" ")} stroke="currentColor" strokeWidth={1.5} fill="none" />
    </svg>
  );
}
