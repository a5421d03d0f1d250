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
 * @param lanesAt what a key strikes, by its place in the list: nothing, a pad, or the notes of a chord
 * @returns the undo of the subscription
 */
export function listenToKeys(
  target: Window,
  listener: PadListener,
  levels: () => KeyLevels,
  lanesAt: (key: number) => readonly number[],
): () => void {
  const press = (event: KeyboardEvent) => {
    if (event.repeat || event.ctrlKey || event.metaKey || takesText(event.target)) return undefined;
    const key = PAD_KEYS.indexOf(event.code as (typeof PAD_KEYS)[number]);
    const lanes = key < 0 ? [] : lanesAt(key);
    if (lanes.length === 0) return undefined;
    event.preventDefault();
    const { level, accent, soft } = levels();
    const velocity = event.shiftKey ? accent : event.altKey ? soft : level;
    for (const lane of lanes) listener.strike({ lane, velocity, timeMs: event.timeStamp, device: KEYS_DEVICE });
    return lanes;
  };
  return listenToHeldKeys(target, press, (lanes, timeMs) =>
    lanes.forEach((lane) => listener.release({ lane, timeMs, device: KEYS_DEVICE })),
  );
}
