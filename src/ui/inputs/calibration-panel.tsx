"use client";

import { DELAY_RANGE_MS } from "@/inputs/device-profile";
import type { Calibration } from "@/store/state/workspace-state";
import { MIN_OFFSETS } from "@/core/timing/tap-offset";
import { NumberField } from "../common/fields/number-field";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";

/** Above this, playing along is disturbed (common practice, no source). */
const SLOW_OUTPUT_MS = 30;

/** How late a device's strokes arrive: typed, reset, or found by tapping along to eight bars of click. */
export function CalibrationPanel({ device }: { readonly device: string }) {
  const workspace = useWorkspace();
  const calibration = useWorkspaceState((state) => state.calibration);
  const latencyMs = useWorkspaceState((state) => state.outputLatencyMs);
  const delayMs = useWorkspaceState(({ midi }) => midi.profiles[device]?.delayMs ?? 0);
  const setDelay = (ms: number) => workspace.devices.setProfile(device, { delayMs: ms });
  return (
    <section className={styles.panel} aria-labelledby="latency-title">
      <h2 id="latency-title">Latency</h2>
      <p className={styles.says}>
        Output <span className="numerals">{latencyMs.toFixed(0)} ms</span>: hits are placed where you heard the loop.
        {latencyMs > SLOW_OUTPUT_MS &&
          " That is slow. Use wired headphones, or the computer's own output, and close what else uses sound."}
      </p>
      <div className={styles.fields}>
        <NumberField
          label={`Delay of ${device}`}
          unit="ms"
          value={delayMs}
          {...DELAY_RANGE_MS}
          step={1}
          decimals={1}
          standard={0}
          onChange={setDelay}
        />
        <button type="button" className="btn" disabled={delayMs === 0} onClick={() => setDelay(0)}>
          Reset
        </button>
        <CalibrateButton />
      </div>
      <div role="status" className={styles.says}>
        {calibration && <Progress calibration={calibration} />}
      </div>
      {calibration && (!calibration.finished || calibration.result) && <TapPicture offsetsMs={calibration.offsetsMs} />}
    </section>
  );
}

function CalibrateButton() {
  const { calibrator } = useWorkspace();
  const calibration = useWorkspaceState((state) => state.calibration);
  const running = useWorkspaceState(({ transport }) => transport.running);
  if (calibration)
    return (
      <button type="button" className="btn" onClick={() => calibrator.close()}>
        {calibration.finished ? "Done" : "Stop"}
      </button>
    );
  return (
    <button type="button" className="btn" disabled={running} onClick={() => calibrator.start()}>
      Calibrate
    </button>
  );
}

/** What is to be done, and then what was found. */
function Progress({ calibration }: { readonly calibration: Calibration }) {
  const { devices, calibrator } = useWorkspace();
  const { device, offsetsMs, finished, result } = calibration;
  if (!finished)
    return (
      <p>
        Play along to the click for eight bars, any pad, one device. {device && `${device}: ${offsetsMs.length} taps.`}
      </p>
    );
  if (!result || !device) return <p>Too few taps: {MIN_OFFSETS} are needed. Try again.</p>;
  const apply = () => {
    devices.setProfile(device, { delayMs: Number(result.medianMs.toFixed(1)) });
    calibrator.close();
  };
  return (
    <p className={styles.result}>
      {device}: <b className="numerals">{result.medianMs.toFixed(1)} ms</b> {result.medianMs < 0 ? "early" : "late"},
      spread <span className="numerals">{result.spreadMs.toFixed(1)} ms</span>, {result.used} of {result.all} taps
      counted.
      <button type="button" className="btn btn-primary" onClick={apply}>
        Apply
      </button>
    </p>
  );
}

/** Half the width of the picture in ms. */
const REACH_MS = 120;

function TapPicture({ offsetsMs }: { readonly offsetsMs: readonly number[] }) {
  return (
    <svg
      viewBox={`${-REACH_MS} 0 ${2 * REACH_MS} 24`}
      className={styles.taps}
      role="img"
      aria-label="Taps, early to late"
    >
      <line x1="0" x2="0" y1="0" y2="24" className={styles.tapsZero} />
      {offsetsMs.map((offset, index) => (
        <circle
          key={index}
          cx={Math.max(-REACH_MS, Math.min(REACH_MS, offset))}
          cy={4 + ((index * 7) % 17)}
          r="2.2"
          className={styles.curveLast}
        />
      ))}
    </svg>
  );
}
