"use client";

import { ChevronDown } from "../icons/generated/chevron-down";
import { ChevronRight } from "../icons/generated/chevron-right";
import panel from "../common/panel.module.scss";
import { TimingViewChoice } from "./timing-view-choice";
import { TimingScopeChoice } from "./timing-scope-choice";
import styles from "./timing.module.scss";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { useTimingSummary } from "./use-timing-summary";
import { lazyView } from "../common/lazy-view";

/** Folded until somebody asks for them, and fetched then. */
const QuantizeFields = lazyView(() => import("./quantize-fields"));
const AdviceLine = lazyView(() => import("./advice-line"));
const GrooveFields = lazyView(() => import("./groove-fields"));

/** All that is done to the time of hits: lines, groove, what of it is heard, and the ways back; folded, what is set in a line. */
export function TimingPanel() {
  const workspace = useWorkspace();
  const folded = useWorkspaceState(({ settings }) => settings.timingFolded);
  const fold = () => workspace.setSettings({ timingFolded: !folded });
  const summary = useTimingSummary();
  return (
    <section className={`${panel.panel} ${styles.timing}`} aria-label="Timing">
      <div className={styles.titleRow}>
        <button type="button" className={styles.fold} aria-expanded={!folded} aria-label="Timing fields" onClick={fold}>
          {folded ? <ChevronRight aria-hidden /> : <ChevronDown aria-hidden />}
        </button>
        <h2>Timing of</h2>
        <TimingScopeChoice />
      </div>
      {folded && (
        <button type="button" className={styles.summary} title="Grid, groove and swing: shows all of it" onClick={fold}>
          {summary}
        </button>
      )}
      {!folded && <QuantizeFields />}
      <AdviceLine />
      {!folded && <GrooveFields />}
      <TimingViewChoice />
    </section>
  );
}
