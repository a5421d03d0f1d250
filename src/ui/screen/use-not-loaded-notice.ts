import { useEffect } from "react";
import { isNotLoaded, wordsOf } from "@/store/words-of";
import type { Workspace } from "@/store/workspace/workspace";

/** Tells the player, wherever something was asked for, that a part of the app it needs could not be loaded. */
export function useNotLoadedNotice({ store }: Workspace): void {
  useEffect(() => {
    const tell = (event: PromiseRejectionEvent) => {
      if (!isNotLoaded(event.reason)) return;
      event.preventDefault();
      store.setState({ notice: wordsOf(event.reason) });
    };
    window.addEventListener("unhandledrejection", tell);
    return () => window.removeEventListener("unhandledrejection", tell);
  }, [store]);
}
