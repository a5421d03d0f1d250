import type { MouseEvent } from "react";
import { REPEAT_RATES, type Command } from "@/inputs/commands";
import { takesText } from "@/inputs/computer-keys";
import { listenToHeldKeys } from "@/inputs/held-keys";
import type { Workspace } from "@/store/workspace";

/** The top row of letters: the rates of note repeat. */
export const RATE_KEYS = ["KeyQ", "KeyW", "KeyE", "KeyR", "KeyT", "KeyY", "KeyU", "KeyI"] as const;

/** Commands by the place of their key; those that are held end when it is let go. */
const KEY_COMMANDS: Readonly<Record<string, Command>> = {
  Space: "play",
  Enter: "record",
  KeyP: "practice",
  KeyO: "mode",
  Slash: "click",
  Backspace: "erase",
  Digit0: "nextPattern",
  Period: "tapTempo",
  ...Object.fromEntries(RATE_KEYS.map((code, index) => [code, `repeat ${REPEAT_RATES[index]}` as const])),
};

/** The keys that are commands, for the list that the page shows. */
export const COMMAND_KEYS = [
  ["Space", "Play and stop"],
  ["Enter", "In and out of record"],
  ["End", "Bring back what was just played, or the open echo"],
  ["Page ↓ ↑", "Older and newer echoes; Shift: their readings"],
  ["Shift Space", "Hear the open echo"],
  ["P", "In and out of practice"],
  ["O", "Next mode: overdub, replace, takes"],
  ["Backspace + pad", "Erase what goes by while held"],
  ["Q … I + pad", "Note repeat, 1/4 to 1/64"],
  ["L", "Keep the repeat rate on"],
  ["1 … 8", "Pattern 1 to 8; with Shift 9 to 16"],
  ["0", "Next empty pattern"],
  ["9", "Duplicate the pattern"],
  ["[ ]", "Step through takes"],
  [".", "Tap tempo; Shift . takes it, Esc drops it"],
  ["- =", "Tempo down and up"],
  ["/", "Click on and off"],
  ["↑ ↓", "Step through grooves"],
  ["← →", "Step through grids"],
  ["; ' \\", "Hear it played, corrected, grooved"],
  ["`", "As played and back"],
  ["Shift \\", "Keep timing; Shift ; returns"],
  ["Shift '", "Take the advised grid"],
  ["Shift ↑ ↓", "Look closer and further; ← → along"],
  ["Home", "Lanes follow playback"],
  ["Ctrl Z", "Undo; with Shift redo"],
  ["Shift, Alt + pad", "Accent, soft"],
] as const;

/** A control that has the keyboard's focus answers Space and Enter itself. */
function answersItself(target: EventTarget | null): boolean {
  return (
    target instanceof Element &&
    target.closest("button, a, select, input, textarea, summary, [role=menu], [role=dialog]") !== null
  );
}

/** Boxes, dots and sliders: nothing is typed into them, but arrow keys are theirs. */
function isChoice(target: EventTarget | null): target is HTMLInputElement {
  return target instanceof HTMLInputElement && ["checkbox", "radio", "range"].includes(target.type);
}

/** @returns the undo of the subscription */
export function listenToCommands(target: Window, workspace: Workspace): () => void {
  const press = (event: KeyboardEvent): Command | undefined => {
    // Menus and sliders have their own use for the arrow keys.
    if (takesText(event.target) || event.defaultPrevented) return undefined;
    if (event.code.startsWith("Arrow") && isChoice(event.target)) return undefined;
    if ((event.ctrlKey || event.metaKey) && !event.altKey) {
      pressWithControl(event, workspace);
      return undefined;
    }
    if (event.altKey) return undefined;
    const command = KEY_COMMANDS[event.code];
    if ((event.code === "Space" || event.code === "Enter") && answersItself(event.target)) return undefined;
    if (!command) {
      if (pressOther(event, workspace)) event.preventDefault();
      return undefined;
    }
    event.preventDefault();
    if (event.repeat) return undefined;
    if (command === "play" && event.shiftKey && workspace.state.openEcho) {
      workspace.echoDesk.toggleHearing();
      return undefined;
    }
    if (command === "tapTempo" && event.shiftKey) {
      workspace.tempoTap.take();
      return undefined;
    }
    workspace.command(command, true, event.timeStamp);
    return command;
  };
  return listenToHeldKeys(target, press, (command, timeMs) => workspace.command(command, false, timeMs));
}

/** Keys that are no commands of a controller, too. @returns false when the key means nothing here */
function pressOther({ code, shiftKey, repeat }: KeyboardEvent, workspace: Workspace): boolean {
  // Only a tempo may run on while its key is held.
  if (repeat && code !== "Minus" && code !== "Equal") return false;
  const digit = /^Digit([1-8])$/.exec(code)?.[1];
  if (digit) workspace.patterns.choose(Number(digit) - 1 + (shiftKey ? 8 : 0));
  else if (code === "Digit9") workspace.patterns.duplicate();
  else if (code === "KeyL") workspace.repeat.toggleLatch();
  else if (code === "BracketLeft") workspace.stepTake(-1);
  else if (code === "BracketRight") workspace.stepTake(1);
  else if (pressTiming(code, shiftKey, workspace)) return true;
  else if (code === "End") void workspace.echoDesk.takeAtOnce();
  else if (code === "PageUp" || code === "PageDown") pressPage(code, shiftKey, workspace);
  else if (code === "Home") workspace.lanes.toggleFollow();
  else if (code === "Minus") workspace.nudgeTempo(shiftKey ? -0.1 : -1);
  else if (code === "Equal") workspace.nudgeTempo(shiftKey ? 0.1 : 1);
  else if (code === "Escape") escape(workspace);
  else return false;
  return true;
}

/** What is heard of the timing, the ways back, and the arrows: grids and grooves, with Shift the lanes. */
function pressTiming(code: string, shiftKey: boolean, { timing, lanes }: Workspace): boolean {
  switch (code) {
    case "Semicolon":
      if (shiftKey) timing.return();
      else timing.listenTo("played");
      return true;
    case "Quote":
      if (shiftKey) timing.takeAdvice();
      else timing.listenTo("corrected");
      return true;
    case "Backslash":
      if (shiftKey) timing.keep();
      else timing.listenTo("grooved");
      return true;
    case "Backquote":
      timing.toggleAsPlayed();
      return true;
    case "ArrowUp":
    case "ArrowDown":
      if (shiftKey) lanes.zoom(code === "ArrowUp");
      else timing.stepGroove(code === "ArrowUp" ? -1 : 1);
      return true;
    case "ArrowLeft":
    case "ArrowRight":
      if (shiftKey) lanes.pan(code === "ArrowLeft" ? -0.5 : 0.5);
      else timing.stepGrid(code === "ArrowLeft" ? -1 : 1);
      return true;
    default:
      return false;
  }
}

/** Through the echoes, and with Shift through the ways of the open one. */
function pressPage(code: "PageUp" | "PageDown", shiftKey: boolean, { echoDesk }: Workspace): void {
  if (shiftKey) echoDesk.stepWay(code === "PageUp" ? -1 : 1);
  else echoDesk.walk(code === "PageUp" ? "newer" : "older");
}

function escape(workspace: Workspace): void {
  if (workspace.state.openEcho) workspace.echoDesk.open(undefined);
  if (workspace.state.tapped) workspace.tempoTap.drop();
  if (workspace.state.midi.learning) workspace.devices.learn(undefined);
  if (workspace.state.selected.length > 0) workspace.lanes.select([]);
}

/** Undo follows the letter, not the place of the key, as everywhere else on the computer. */
function pressWithControl(event: KeyboardEvent, workspace: Workspace): void {
  const key = event.key.toLowerCase();
  if (key === "z" && event.shiftKey) workspace.document.redo();
  else if (key === "z") workspace.document.undo();
  else if (key === "y") workspace.document.redo();
  else return;
  event.preventDefault();
}

/** A click on a button must not leave the focus there: the next Space is for the transport, not for that button. */
export function keepFocusOffButtons(event: MouseEvent): void {
  if (!(event.target as Element).closest("button")) return;
  event.preventDefault();
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
}

/**
 * A choice made with the pointer must not keep the keyboard either; one made with arrow keys keeps it, to go on.
 * @returns the undo of the subscription
 */
export function keepFocusOffChoices(target: Window): () => void {
  let byPointer = false;
  const point = () => (byPointer = true);
  const press = () => (byPointer = false);
  const change = ({ target: choice }: Event) => {
    if (byPointer && (choice instanceof HTMLSelectElement || isChoice(choice))) choice.blur();
  };
  target.addEventListener("pointerdown", point, true);
  target.addEventListener("keydown", press, true);
  target.addEventListener("change", change);
  return () => {
    target.removeEventListener("pointerdown", point, true);
    target.removeEventListener("keydown", press, true);
    target.removeEventListener("change", change);
  };
}
