import type { MouseEvent } from "react";
import { takesText } from "@/inputs/computer-keys";
import { listenToHeldKeys } from "@/inputs/held-keys";
import type { Command } from "@/inputs/commands";
import type { Workspace } from "@/store/workspace/workspace";
import type { KeyBinding } from "../workspace/key-binding";
import { KEYMAP } from "../workspace/keymap";

/** A control that has the keyboard's focus answers Space and Enter itself; a slider, and a choice that is made, have no use for them. */
function answersItself(target: EventTarget | null): boolean {
  if (!(target instanceof Element)) return false;
  if (target instanceof HTMLInputElement && target.type === "radio") return !isMade(target);
  return (
    target.closest("button, a, select, input:not([type=range]), textarea, summary, [role=menu], [role=dialog]") !== null
  );
}

/** Something is chosen; right after an arrow key, until the page has drawn what it did, that is what was chosen before. */
function isMade({ checked, name }: HTMLInputElement): boolean {
  return (
    checked || (name !== "" && document.querySelector(`[type=radio][name="${CSS.escape(name)}"]:checked`) !== null)
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
    if (takesText(event.target) || event.defaultPrevented || closesMenu.has(event)) return undefined;
    if (event.code.startsWith("Arrow") && isChoice(event.target)) return undefined;
    if ((event.code === "Space" || event.code === "Enter") && answersItself(event.target)) return undefined;
    return firstThatMeans(event, workspace);
  };
  return listenToHeldKeys(target, press, (command, timeMs) => workspace.command(command, false, timeMs));
}

/** Does what the key stands for. @returns the command that ends when the key is let go */
function firstThatMeans(event: KeyboardEvent, workspace: Workspace): Command | undefined {
  for (const binding of KEYMAP) {
    const index = indexIn(binding, event);
    if (index < 0 || (!binding.command && !binding.run)) continue;
    event.preventDefault();
    if (event.repeat && !binding.repeats) return undefined;
    const command = binding.command?.(index);
    if (command) workspace.command(command, true, event.timeStamp);
    if (command || binding.run!(workspace, index) !== false) return command;
  }
  return undefined;
}

/** Which key of a binding was pressed; below 0 for none. With Control letters count, as everywhere else on the computer. */
function indexIn({ codes, shift, control, alt }: KeyBinding, event: KeyboardEvent): number {
  if ((event.ctrlKey || event.metaKey) !== (control ?? false)) return -1;
  if (event.altKey !== (alt ?? false)) return -1;
  if (shift !== undefined && shift !== event.shiftKey) return -1;
  const letter = control ? codes.indexOf(event.key.toLowerCase()) : -1;
  return letter >= 0 ? letter : codes.indexOf(event.code);
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

/** Keys that close a menu, and do nothing else. */
const closesMenu = new WeakSet<Event>();

/** Escape leaves every field and closes every menu, however it was opened. @returns the undo of the subscription */
export function listenToEscape(target: Window): () => void {
  // By the time others hear of the key the menu may be gone.
  const look = (event: KeyboardEvent) => {
    if (event.code === "Escape" && document.querySelector(".dropdown-menu.show")) closesMenu.add(event);
  };
  const leave = (event: KeyboardEvent) => {
    if (event.code !== "Escape") return;
    if (event.target instanceof HTMLElement && takesText(event.target)) event.target.blur();
    // A menu that was opened with the pointer has not got the focus, and hears of no key; of a click elsewhere it does.
    if (document.querySelector(".dropdown-menu.show"))
      document.body.dispatchEvent(new globalThis.MouseEvent("click", { bubbles: true }));
  };
  target.addEventListener("keydown", look, true);
  target.addEventListener("keydown", leave);
  return () => {
    target.removeEventListener("keydown", look, true);
    target.removeEventListener("keydown", leave);
  };
}
