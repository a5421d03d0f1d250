"use client";

import dynamic from "next/dynamic";
import type { Stack } from "@/store/workspace/workspace-state";
import panel from "../common/panel.module.scss";
import { PassesPanel } from "../passes/passes-panel";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./echoes.module.scss";

/** Not looked at when a beat is opened, and fetched when it is. */
const EchoesPanel = dynamic(() => import("./echoes-panel"), { ssr: false });

/** One stack in two views. */
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
    <section className={`${panel.panel} ${styles.stack}`} aria-label="Passes and echoes">
      <div role="tablist" aria-label="Passes or echoes" className={styles.tabs}>
        {tab("passes", "Passes")}
        {tab("echoes", count > 0 ? `Echoes ${count}` : "Echoes")}
      </div>
      <div role="tabpanel" id="stack" aria-labelledby={`tab-${shown}`} tabIndex={0} className={styles.scroll}>
        {shown === "passes" ? <PassesPanel /> : <EchoesPanel />}
      </div>
    </section>
  );
}
