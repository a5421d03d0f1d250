import { createStore, type StoreApi } from "zustand/vanilla";

/** Of the page's time, drawing gets one part in so many when changes come in a flood. */
const SHARE = 3;
const PICTURE_MS = 1000 / 60;

/** So many changes are shown at once within a picture: what a hand does is never more. */
const AT_ONCE = 4;

/**
 * A store that shows what another holds: what a hand does at once, a flood of changes together, a few times a picture and
 * less often where drawing takes long. Thousands of hits a second would otherwise leave the page no time to play.
 */
export function createViewStore<T>(source: StoreApi<T>): { readonly store: StoreApi<T>; readonly close: () => void } {
  const store = createStore<T>(() => source.getState());
  let frame: number | undefined;
  let shown = 0;
  let restUntilMs = 0;
  const show = () => {
    shown++;
    store.setState(source.getState(), true);
    frame ??= requestAnimationFrame(measure(performance.now()));
  };
  /** The second picture from here begins when the first one, with what changed, is done. */
  const measure = (startMs: number) => () => {
    frame = requestAnimationFrame(() => {
      const nowMs = performance.now();
      restUntilMs = nowMs + SHARE * Math.max(0, nowMs - startMs - 2 * PICTURE_MS);
      frame = undefined;
      shown = 0;
      catchUp();
    });
  };
  const catchUp = () => {
    frame = undefined;
    if (store.getState() === source.getState()) return;
    if (performance.now() < restUntilMs) frame = requestAnimationFrame(catchUp);
    else show();
  };
  const unsubscribe = source.subscribe(() => {
    if (shown < AT_ONCE && performance.now() >= restUntilMs) show();
    else frame ??= requestAnimationFrame(catchUp);
  });
  return {
    store,
    close() {
      unsubscribe();
      if (frame !== undefined) cancelAnimationFrame(frame);
    },
  };
}
