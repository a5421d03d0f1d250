"use client";

import { useWorkspaceState } from "../workspace/use-workspace";
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
                  <td>{did}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
