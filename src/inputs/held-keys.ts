/**
 * Follows keys that mean something for as long as they are down.
 * @param press what a key that goes down starts, or undefined when nothing has to end with it
 * @param letGo ends it; also when the window loses the keyboard, since a key let go elsewhere is never reported
 * @returns the undo of the subscription
 */
export function listenToHeldKeys<T>(
  target: Window,
  press: (event: KeyboardEvent) => T | undefined,
  letGo: (held: T, timeMs: number) => void,
): () => void {
  const held = new Map<string, T>();
  const down = (event: KeyboardEvent) => {
    const started = press(event);
    if (started !== undefined) held.set(event.code, started);
  };
  const end = (code: string, timeMs: number) => {
    const started = held.get(code);
    held.delete(code);
    if (started !== undefined) letGo(started, timeMs);
  };
  const up = (event: KeyboardEvent) => end(event.code, event.timeStamp);
  const endAll = () => [...held.keys()].forEach((code) => end(code, performance.now()));

  target.addEventListener("keydown", down);
  target.addEventListener("keyup", up);
  target.addEventListener("blur", endAll);
  return () => {
    target.removeEventListener("keydown", down);
    target.removeEventListener("keyup", up);
    target.removeEventListener("blur", endAll);
  };
}
