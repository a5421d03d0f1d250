import { createStore, type StoreApi } from "zustand/vanilla";

/**
 * A store that shows what another holds, no more than once a picture: a single change at once, a flood of them together
 * with the next picture. Drawing thousands of hits a second would otherwise take all of the page's time.
 */
export function createViewStore<T>(source: StoreApi<T>): { readonly store: StoreApi<T>; readonly close: () => void } {
  const store = createStore<T>(() => source.getState());
  let frame: number | undefined;
  const show = () => {
    frame = undefined;
    if (store.getState() !== source.getState()) {
      store.setState(source.getState(), true);
      frame = requestAnimationFrame(show);
    }
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
