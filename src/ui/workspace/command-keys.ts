import type { MouseEvent } from "react";
import { takesText } from "@/inputs/computer-keys";
import type { Workspace } from "@/store/workspace";

/** The keys that are commands, for the list that the page shows. */
export const COMMAND_KEYS = [
  ["Space", "Play and stop"],
  ["Enter", "In and out of record"],
  ["/", "Click on and off"],
  ["Ctrl Z", "Undo"],
  ["Ctrl Shift Z", "Redo"],
  ["Shift + pad key", "Accent"],
] as const;

/** A control that has the keyboard's focus answers Space and Enter itself. */
function answersItself(target: EventTarget | null): boolean {
  return (
    target instanceof Element &&
    target.closest("button, a, select, input, textarea, summary, [role=menu], [role=dialog]") !== null
  );
}

/** @returns the undo of the subscription */
export function listenToCommands(target: Window, workspace: Workspace): () => void {
  const press = (event: KeyboardEvent) => {
    if (takesText(event.target)) return;
    if ((event.ctrlKey || event.metaKey) && !event.altKey) return pressWithControl(event, workspace);
    if (event.repeat || event.altKey || answersItself(event.target)) return;
    if (event.code === "Space") workspace.togglePlay();
    else if (event.code === "Enter") workspace.toggleRecord();
    else if (event.code === "Slash") workspace.setSettings({ clickOn: !workspace.state.settings.clickOn });
    else return;
    event.preventDefault();
  };
  target.addEventListener("keydown", press);
  return () => target.removeEventListener("keydown", press);
}

/** Undo follows the letter, not the place of the key, as everywhere else on the computer. */
function pressWithControl(event: KeyboardEvent, workspace: Workspace): void {
  const key = event.key.toLowerCase();
  if (key === "z" && event.shiftKey) workspace.redo();
  else if (key === "z") workspace.undo();
  else if (key === "y") workspace.redo();
  else return;
  event.preventDefault();
}

/** A click on a button must not leave the focus there: the next Space is for the transport, not for that button. */
export function keepFocusOffButtons(event: MouseEvent): void {
  if (!(event.target as Element).closest("button")) return;
  event.preventDefault();
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
}
