"use client";

import { lanesOf } from "@/core/beat/lanes";
import type { Trigger } from "@/inputs/device-profile";
import { useOfBeat, useOpenPart, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";

/** What came in last: from where, what, how hard, and what it did. */
export function SeenList() {
  const seen = useWorkspaceState(({ midi }) => midi.seen);
  return (
    <section className={`${styles.panel} ${styles.grows}`} aria-labelledby="seen-title">
      <h2 id="seen-title">Last hits of MIDI devices</h2>
      {seen.length === 0 ? (
        <p className={styles.says}>Nothing yet. Hit a pad of a device that is plugged in.</p>
      ) : (
        <div className={styles.seenScroll} tabIndex={0} role="region" aria-labelledby="seen-title">
          <table className={styles.seen}>
            <thead>
              <tr>
                <th>Device</th>
                <th>Message</th>
                <th>Level</th>
                <th>Did</th>
              </tr>
            </thead>
            <tbody>
              {seen.map(({ device, trigger, value, timeMs, did }, index) => (
                <tr key={`${timeMs} ${index}`}>
                  <td>{device}</td>
                  <td className="numerals">
                    {trigger.kind === "note" ? "note" : "ctrl"} {trigger.number}
                  </td>
                  <td className="numerals">{value}</td>
                  <td>{did ?? <GiveItAPad device={device} trigger={trigger} />}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

const NO_PAD = "no pad has this note";

/** A note that no pad has gets one here, of the part that its device plays. */
function GiveItAPad({ device, trigger }: { readonly device: string; readonly trigger: Trigger }) {
  const { devices } = useWorkspace();
  const shown = useOpenPart();
  const part = useOfBeat(({ parts }) => parts.find(({ id }) => id === devices.partOf(device))) ?? shown;
  if (part.kind !== "kit") return NO_PAD;
  return (
    <select
      className="form-select form-select-sm"
      aria-label={`Pad for note ${trigger.number}`}
      value=""
      onChange={(event) => devices.assign(device, trigger, { kind: "pad", pad: Number(event.currentTarget.value) })}
    >
      <option value="">{NO_PAD}</option>
      {lanesOf(part).map(({ id, name }) => (
        <option key={id} value={id}>
          play {name}
        </option>
      ))}
    </select>
  );
}
