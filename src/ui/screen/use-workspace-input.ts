"use client";

import { useEffect } from "react";
import { listenToKeys } from "@/inputs/computer-keys";
import { keepFocusOffChoices, listenToCommands, listenToEscape } from "./command-keys";
import { useOpened } from "../workspace/use-workspace";

/**
 * Lets the whole page play: keys are pads and commands, any touch wakes the sound, dropped files are sounds, and whoever leaves
 * takes nothing along.
 */
export function useWorkspaceInput(): void {
  const opened = useOpened();
  useEffect(() => {
    const { workspace } = opened;
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
    // A file that is dropped must not take the page away.
    const over = (event: DragEvent) => event.preventDefault();
    const drop = (event: DragEvent) => {
      event.preventDefault();
      const files = [...(event.dataTransfer?.files ?? [])];
      const target = event.target as Element;
      if (files.length > 0)
        void import("../sounds/take-dropped").then(({ takeDropped }) => takeDropped(opened, files, target));
    };
    window.addEventListener("dragover", over);
    window.addEventListener("drop", drop);
    return () => {
      undoKeys();
      undoCommands();
      undoEscape();
      undoChoices();
      window.removeEventListener("pointerdown", wake, true);
      window.removeEventListener("keydown", wake, true);
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("dragover", over);
      window.removeEventListener("drop", drop);
    };
  }, [opened]);
}
