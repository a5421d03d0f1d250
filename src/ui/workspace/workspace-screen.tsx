"use client";

import { useEffect, useState } from "react";
import { listenToKeys } from "@/inputs/computer-keys";
import { InputsView } from "../inputs/inputs-view";
import { Lanes } from "../lanes/lanes";
import { Pads } from "../pads/pads";
import { PassesPanel } from "../passes/passes-panel";
import { PatternBar } from "../patterns/pattern-bar";
import { RepeatRow } from "../repeat/repeat-row";
import type { Theme } from "../theme/theme-cookie";
import { TimingPanel } from "../timing/timing-panel";
import { TopStrip } from "../transport/top-strip";
import { Banners } from "./banners";
import { keepFocusOffButtons, keepFocusOffChoices, listenToCommands } from "./command-keys";
import { useWorkspace } from "./use-workspace";
import styles from "./workspace.module.scss";

/** The one screen on which a beat is made; the inputs take the place of the lanes while they are looked at. */
export function WorkspaceScreen({ theme }: { readonly theme: Theme }) {
  const workspace = useWorkspace();
  const [inputsOpen, setInputsOpen] = useState(false);
  useEffect(() => {
    const undoKeys = listenToKeys(window, workspace, () => workspace.state.settings.keyLevels);
    const undoCommands = listenToCommands(window, workspace);
    const undoChoices = keepFocusOffChoices(window);
    const wake = () => void workspace.playback.resume();
    const leave = () => void workspace.document.flush();
    window.addEventListener("pointerdown", wake, true);
    window.addEventListener("keydown", wake, true);
    window.addEventListener("pagehide", leave);
    return () => {
      undoKeys();
      undoCommands();
      undoChoices();
      window.removeEventListener("pointerdown", wake, true);
      window.removeEventListener("keydown", wake, true);
      window.removeEventListener("pagehide", leave);
    };
  }, [workspace]);

  return (
    <div className={styles.workspace} onMouseDown={keepFocusOffButtons}>
      <TopStrip theme={theme} inputsOpen={inputsOpen} onInputs={() => setInputsOpen(!inputsOpen)} />
      <Banners />
      <main className={inputsOpen ? styles.wide : styles.middle}>
        {inputsOpen ? (
          <InputsView />
        ) : (
          <>
            <Lanes />
            <aside className={styles.side} aria-label="Timing and passes">
              <TimingPanel />
              <PassesPanel />
            </aside>
          </>
        )}
      </main>
      <div>
        <PatternBar />
        <RepeatRow />
        <Pads />
      </div>
    </div>
  );
}
