import { createStore, type StoreApi } from "zustand/vanilla";

/** Of the page's time, drawing gets one part in so many when changes come in a flood. */
const SHARE = 3;
const PICTURE_MS = 1000 / 60;

/**
 * A store that shows what another holds, no more than once a picture and less often where drawing takes long: a single
 * change at once, a flood of them together. Thousands of hits a second would otherwise leave the page no time to play.
 */
export function createViewStore<T>(source: StoreApi<T>): { readonly store: StoreApi<T>; readonly close: () => void } {
  const store = createStore<T>(() => source.getState());
  let frame: number | undefined;
  let restUntilMs = 0;
  const next = () => {
    frame = undefined;
    if (store.getState() === source.getState()) return;
    if (performance.now() < restUntilMs) frame = requestAnimationFrame(next);
    else show();
  };
  const show = () => {
    const startMs = performance.now();
    store.setState(source.getState(), true);
    // The second picture from here begins when the first one, with what changed, is done.
    frame = requestAnimationFrame(() => {
      frame = requestAnimationFrame(() => {
        const nowMs = performance.now();
        restUntilMs = nowMs + SHARE * Math.max(0, nowMs - startMs - 2 * PICTURE_MS);
        next();
      });
    });
  };
  const unsubscribe = source.subscribe(() => {
    if (frame === undefined) show();
  });
  return {
    store,
    close() {
      unsubscribe();
      if (frame !== undefined) cancelAnimationFrame(frame);
    },
  };
}
