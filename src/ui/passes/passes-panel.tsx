"use client";

import panel from "../common/panel.module.scss";
import { useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import { PassRow } from "./pass-row";
import styles from "./passes.module.scss";

/** The stack of passes, the newest on top. */
export function PassesPanel() {
  const { passes } = useOpenPattern();
  const openPassId = useWorkspaceState(({ openPass }) => openPass?.passId);
  return (
    <section className={`${panel.panel} ${styles.passes}`} aria-labelledby="passes-title">
      <h2 id="passes-title" className={panel.title}>
        Passes
      </h2>
      {passes.length === 0 && (
        <p className={styles.empty}>Nothing recorded yet. Press Enter, wait for the count-in, and play.</p>
      )}
      <ol className={styles.stack} reversed>
        {passes.toReversed().map((pass) => (
          <PassRow key={pass.id} pass={pass} open={pass.id === openPassId} />
        ))}
      </ol>
    </section>
  );
}
