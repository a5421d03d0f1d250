"use client";

import { useEffect } from "react";
import { listenToKeys } from "@/inputs/computer-keys";
import { keepFocusOffChoices, listenToCommands, listenToEscape } from "./command-keys";
import { useWorkspace } from "./use-workspace";

/** Lets the whole page play: keys are pads and commands, any touch wakes the sound, and whoever leaves takes nothing along. */
export function useWorkspaceInput(): void {
  const workspace = useWorkspace();
  useEffect(() => {
    const levels = () => workspace.state.settings.keyLevels;
    const undoKeys = listenToKeys(window, workspace, levels, (key) => workspace.lanesAt(key));
    const undoCommands = listenToCommands(window, workspace);
    const undoEscape = listenToEscape(window);
    const undoChoices = keepFocusOffChoices(window);
    const wake = () => void workspace.playback.resume();
    const leave = () => {
      workspace.echoes.leave();
      workspace.document.leave();
    };
    window.addEventListener("pointerdown", wake, true);
    window.addEventListener("keydown", wake, true);
    window.addEventListener("pagehide", leave);
    return () => {
      undoKeys();
      undoCommands();
      undoEscape();
      undoChoices();
      window.removeEventListener("pointerdown", wake, true);
      window.removeEventListener("keydown", wake, true);
      window.removeEventListener("pagehide", leave);
    };
  }, [workspace]);
}
