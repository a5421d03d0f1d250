import { listenToHeldKeys } from "./held-keys";
import { KEYS_DEVICE, type PadListener } from "./played-hit";

/** Keys by physical place, a pad each: the lower row of letters is pads 0 to 7, the home row 8 to 15. */
export const PAD_KEYS = [
  ...["KeyZ", "KeyX", "KeyC", "KeyV", "KeyB", "KeyN", "KeyM", "Comma"],
  ...["KeyA", "KeyS", "KeyD", "KeyF", "KeyG", "KeyH", "KeyJ", "KeyK"],
] as const;

/** Keys feel no force: a level, a harder one with Shift, a softer one with Alt. */
export interface KeyLevels {
  readonly level: number;
  readonly accent: number;
  readonly soft: number;
}

export const DEFAULT_KEY_LEVELS: KeyLevels = { level: 100, accent: 122, soft: 52 };

/** True for places where typing means text or numbers, so that a name does not drum. */
export function takesText(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.isContentEditable || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement)
    return true;
  return target instanceof HTMLInputElement && !["button", "checkbox", "radio", "range"].includes(target.type);
}

/**
 * Drums with the letter keys.
 * @param padAt the id of the pad that lies on a key, by the key's place in the list; undefined where none does
 * @returns the undo of the subscription
 */
export function listenToKeys(
  target: Window,
  listener: PadListener,
  levels: () => KeyLevels,
  padAt: (key: number) => number | undefined,
): () => void {
  const press = (event: KeyboardEvent) => {
    if (event.repeat || event.ctrlKey || event.metaKey || takesText(event.target)) return undefined;
    const key = PAD_KEYS.indexOf(event.code as (typeof PAD_KEYS)[number]);
    const pad = key < 0 ? undefined : padAt(key);
    if (pad === undefined) return undefined;
    event.preventDefault();
    const { level, accent, soft } = levels();
    const velocity = event.shiftKey ? accent : event.altKey ? soft : level;
    listener.strike({ pad, velocity, timeMs: event.timeStamp, device: KEYS_DEVICE });
    return pad;
  };
  return listenToHeldKeys(target, press, (pad, timeMs) => listener.release({ pad, timeMs, device: KEYS_DEVICE }));
}
