import type { PadListener } from "./played-hit";

/** Keys by physical place, a pad each: the lower row of letters is pads 0 to 7, the home row 8 to 15. */
export const PAD_KEYS = [
  ...["KeyZ", "KeyX", "KeyC", "KeyV", "KeyB", "KeyN", "KeyM", "Comma"],
  ...["KeyA", "KeyS", "KeyD", "KeyF", "KeyG", "KeyH", "KeyJ", "KeyK"],
] as const;

/** Keys feel no force: one level, and an accent with Shift. */
export const KEY_VELOCITY = 100;
export const KEY_ACCENT_VELOCITY = 122;

/** True for places where typing means text or numbers, so that a name does not drum. */
export function takesText(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.isContentEditable || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement)
    return true;
  return target instanceof HTMLInputElement && !["button", "checkbox", "radio", "range"].includes(target.type);
}

/** Drums with the letter keys. @returns the undo of the subscription */
export function listenToKeys(target: Window, listener: PadListener): () => void {
  const held = new Map<string, number>();

  const down = (event: KeyboardEvent) => {
    if (event.repeat || event.ctrlKey || event.metaKey || event.altKey || takesText(event.target)) return;
    const pad = PAD_KEYS.indexOf(event.code as (typeof PAD_KEYS)[number]);
    if (pad < 0) return;
    event.preventDefault();
    held.set(event.code, pad);
    listener.strike({
      pad,
      velocity: event.shiftKey ? KEY_ACCENT_VELOCITY : KEY_VELOCITY,
      timeMs: event.timeStamp,
      device: "keys",
    });
  };
  const up = (event: KeyboardEvent) => {
    const pad = held.get(event.code);
    if (pad === undefined) return;
    held.delete(event.code);
    listener.release({ pad, timeMs: event.timeStamp });
  };
  // A key let go in another window is never reported.
  const letGoOfAll = () => {
    for (const pad of held.values()) listener.release({ pad, timeMs: performance.now() });
    held.clear();
  };

  target.addEventListener("keydown", down);
  target.addEventListener("keyup", up);
  target.addEventListener("blur", letGoOfAll);
  return () => {
    target.removeEventListener("keydown", down);
    target.removeEventListener("keyup", up);
    target.removeEventListener("blur", letGoOfAll);
  };
}
