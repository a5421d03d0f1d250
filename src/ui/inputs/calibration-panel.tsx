"use client";

import { DELAY_RANGE_MS } from "@/inputs/device-profile";
import { MIN_OFFSETS } from "@/core/timing/tap-offset";
import { NumberField } from "../common/number-field";
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
  const running = useWorkspaceState(({ transport }) => transport.running);
  const setDelay = (of: string, ms: number) => workspace.devices.setProfile(of, { delayMs: ms });
  const result = calibration?.result;
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
          onChange={(ms) => setDelay(device, ms)}
        />
        <button type="button" className="btn" disabled={delayMs === 0} onClick={() => setDelay(device, 0)}>
          Reset
        </button>
        {!calibration && (
          <button type="button" className="btn" disabled={running} onClick={() => workspace.calibrator.start()}>
            Calibrate
          </button>
        )}
        {calibration && (
          <button type="button" className="btn" onClick={() => workspace.calibrator.close()}>
            {calibration.finished ? "Done" : "Stop"}
          </button>
        )}
      </div>
      <div role="status" className={styles.says}>
        {calibration && !calibration.finished && (
          <p>
            Play along to the click for eight bars, any pad, one device.{" "}
            {calibration.device && `${calibration.device}: ${calibration.offsetsMs.length} taps.`}
          </p>
        )}
        {calibration?.finished && !result && <p>Too few taps: {MIN_OFFSETS} are needed. Try again.</p>}
        {result && (
          <p className={styles.result}>
            {calibration.device}: <b className="numerals">{result.medianMs.toFixed(1)} ms</b>{" "}
            {result.medianMs < 0 ? "early" : "late"}, spread{" "}
            <span className="numerals">{result.spreadMs.toFixed(1)} ms</span>, {result.used} of {result.all} taps
            counted.
            <button
              type="button"
              className="btn btn-primary"
              onClick={() => {
                setDelay(calibration.device!, Number(result.medianMs.toFixed(1)));
                workspace.calibrator.close();
              }}
            >
              Apply
            </button>
          </p>
        )}
      </div>
      {calibration && !calibration.finished && <TapPicture offsetsMs={calibration.offsetsMs} />}
      {result && <TapPicture offsetsMs={calibration.offsetsMs} />}
    </section>
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
