"use client";

import type { DeviceProfile } from "@/inputs/device-profile";
import { curvedVelocity } from "@/inputs/velocity-curve";
import { NumberField } from "../common/fields/number-field";
import { useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";

const SIZE = 127;
/** Strokes shown on the curve. */
const SHOWN = 6;

export interface VelocityCurveProps {
  readonly profile: DeviceProfile;
  onChange(change: Partial<DeviceProfile>): void;
}

/** What a stroke is taken for, drawn, with the last strokes on it. */
export function VelocityCurve({ profile, onChange }: VelocityCurveProps) {
  const seen = useWorkspaceState(({ midi }) => midi.seen);
  const out = (velocity: number) => profile.fixedVelocity || curvedVelocity(velocity, profile.curve);
  const points = Array.from({ length: SIZE }, (_, index) => `${index + 1},${SIZE - out(index + 1)}`).join(" ");
  const strokes = seen.filter(({ device, trigger }) => device === profile.device && trigger.kind === "note");
  const last = strokes[0];
  return (
    <div className={styles.curve}>
      <svg viewBox="-2 -2 132 132" role="img" aria-label="Velocity curve">
        <rect width={SIZE} height={SIZE} className={styles.curveField} />
        <path d={`M0,${SIZE}L${SIZE},0`} className={styles.curveStraight} />
        <polyline points={points} className={styles.curveLine} />
        {strokes.slice(0, SHOWN).map(({ value, timeMs }, index) => (
          <circle
            key={`${timeMs} ${index}`}
            cx={value}
            cy={SIZE - out(value)}
            r={index === 0 ? 4.5 : 2.5}
            className={index === 0 ? styles.curveLast : styles.curveBefore}
          />
        ))}
      </svg>
      <div className={styles.fields}>
        <NumberField
          label="Velocity curve"
          unit="%"
          value={Math.round(profile.curve * 100)}
          min={-100}
          max={100}
          step={5}
          standard={0}
          disabled={profile.fixedVelocity > 0}
          onChange={(percent) => onChange({ curve: percent / 100 })}
        />
        <NumberField
          label="Fixed velocity (0: as played)"
          value={profile.fixedVelocity}
          min={0}
          max={127}
          step={1}
          standard={0}
          onChange={(fixedVelocity) => onChange({ fixedVelocity: Math.round(fixedVelocity) })}
        />
        <p className={`numerals ${styles.says}`}>{last ? `${last.value} → ${out(last.value)}` : "No stroke yet"}</p>
      </div>
    </div>
  );
}
