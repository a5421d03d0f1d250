"use client";

import { useEffect } from "react";
import { listenToKeys } from "@/inputs/computer-keys";
import { Lanes } from "../lanes/lanes";
import { Pads } from "../pads/pads";
import { PassesPanel } from "../passes/passes-panel";
import type { Theme } from "../theme/theme-cookie";
import { TimingPanel } from "../timing/timing-panel";
import { TopStrip } from "../transport/top-strip";
import { Banners } from "./banners";
import { keepFocusOffButtons, listenToCommands } from "./command-keys";
import { useWorkspace } from "./use-workspace";
import styles from "./workspace.module.scss";

/** The one screen on which a beat is made. */
export function WorkspaceView({ theme }: { readonly theme: Theme }) {
  const workspace = useWorkspace();
  useEffect(() => {
    const undoKeys = listenToKeys(window, workspace);
    const undoCommands = listenToCommands(window, workspace);
    const wake = () => void workspace.wakeSound();
    const leave = () => void workspace.flush();
    window.addEventListener("pointerdown", wake, true);
    window.addEventListener("keydown", wake, true);
    window.addEventListener("pagehide", leave);
    return () => {
      undoKeys();
      undoCommands();
      window.removeEventListener("pointerdown", wake, true);
      window.removeEventListener("keydown", wake, true);
      window.removeEventListener("pagehide", leave);
    };
  }, [workspace]);

  return (
    <div className={styles.workspace} onMouseDown={keepFocusOffButtons}>
      <TopStrip theme={theme} />
      <Banners />
      <main className={styles.middle}>
        <Lanes />
        <aside className={styles.side} aria-label="Timing and passes">
          <TimingPanel />
          <PassesPanel />
        </aside>
      </main>
      <Pads />
    </div>
  );
}
