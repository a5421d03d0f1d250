"use client";

import type { Stack } from "@/store/state/workspace-state";
import panel from "../common/panel.module.scss";
import { PassesPanel } from "../passes/passes-panel";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./echoes.module.scss";
import { lazyView } from "../common/lazy-view";

/** Not looked at when a beat is opened, and fetched when it is. */
const EchoesPanel = lazyView(() => import("./echoes-panel"));
const HistoryPanel = lazyView(() => import("../history/history-panel"));

/** What is in the pattern, what is only remembered, and what was done. */
export function StackTabs() {
  const workspace = useWorkspace();
  const shown = useWorkspaceState(({ stack }) => stack);
  const count = useWorkspaceState(({ echoes }) => echoes.length);
  const tab = (name: Stack, text: string) => (
    <button
      type="button"
      role="tab"
      id={`tab-${name}`}
      aria-selected={shown === name}
      aria-controls="stack"
      className={styles.tab}
      onClick={() => workspace.showStack(name)}
    >
      {text}
    </button>
  );
  return (
    <section className={`${panel.panel} ${styles.stack}`} aria-label="Passes, echoes and history">
      <div role="tablist" aria-label="Passes, echoes or history" className={styles.tabs}>
        {tab("passes", "Passes")}
        {tab("echoes", count > 0 ? `Echoes ${count}` : "Echoes")}
        {tab("history", "History")}
      </div>
      <div role="tabpanel" id="stack" aria-labelledby={`tab-${shown}`} tabIndex={0} className={styles.scroll}>
        {shown === "passes" && <PassesPanel />}
        {shown === "echoes" && <EchoesPanel />}
        {shown === "history" && <HistoryPanel />}
      </div>
    </section>
  );
}
