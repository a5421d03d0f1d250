"use client";

import { Lanes } from "../lanes/lanes";
import { Pads } from "../pads/pads";
import { StackTabs } from "../echoes/stack-tabs";
import { PartStrip } from "../parts/part-strip";
import { PatternBar } from "../patterns/pattern-bar";
import { RepeatRow } from "../repeat/repeat-row";
import type { Theme } from "../theme/theme-cookie";
import { TimingPanel } from "../timing/timing-panel";
import { TopStrip } from "../transport/top-strip";
import { Notice } from "./notice";
import { ViewChoice } from "./view-choice";
import { useTitle } from "./use-title";
import { keepFocusOffButtons } from "./command-keys";
import { useLeaveWarning } from "../workspace/use-leave-warning";
import { useNotLoadedNotice } from "./use-not-loaded-notice";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { useWorkspaceInput } from "./use-workspace-input";
import styles from "./workspace.module.scss";
import { lazyView, ViewBoundary } from "../common/lazy-view";

/** Not looked at when a beat is opened, and fetched when they are. */
const InputsView = lazyView(() => import("../inputs/inputs-view"));
/** Seldom anything. */
const Banners = lazyView(() => import("./banners"));
const HitsView = lazyView(() => import("../hits/hits-view"));
const MixView = lazyView(() => import("../mix/mix-view"));
const SoundsView = lazyView(() => import("../sounds/sounds-view"));
const TimingReport = lazyView(() => import("../report/timing-report"));

/** The one screen on which a beat is made; the inputs and the report take the place of the lanes while they are looked at. */
export function WorkspaceScreen({ theme }: { readonly theme: Theme }) {
  const stack = useWorkspaceState((state) => state.stack);
  const view = useWorkspaceState((state) => state.view);
  useLeaveWarning();
  useTitle();
  useWorkspaceInput();
  useNotLoadedNotice(useWorkspace());

  return (
    <div className={styles.workspace} onMouseDown={keepFocusOffButtons}>
      <TopStrip theme={theme} />
      <div className={styles.bar}>
        <PartStrip />
        <PatternBar />
        <ViewChoice />
        <Notice />
      </div>
      <div className={styles.banners} role="status">
        <Banners />
      </div>
      <main className={view === "lanes" ? styles.middle : styles.wide}>
        {view !== "lanes" && (
          <ViewBoundary key={view}>
            {view === "hits" && <HitsView />}
            {view === "mix" && <MixView />}
            {view === "sounds" && <SoundsView />}
            {view === "inputs" && <InputsView />}
            {view === "report" && <TimingReport />}
          </ViewBoundary>
        )}
        {view === "lanes" && (
          <>
            <ViewBoundary>
              <Lanes />
            </ViewBoundary>
            <aside className={styles.side} aria-label="Timing, passes, echoes and history">
              {/* Looking for an echo needs the room more than grids do. */}
              <ViewBoundary>
                {stack !== "echoes" && <TimingPanel />}
                <StackTabs />
              </ViewBoundary>
            </aside>
          </>
        )}
      </main>
      <div className={styles.hands}>
        <RepeatRow />
        <Pads />
      </div>
    </div>
  );
}
