import { useEffect } from "react";
import { isNotLoaded, wordsOf } from "@/store/words-of";
import type { Workspace } from "@/store/workspace/workspace";

/** What was asked for and needs a part of the app that can't be had is not done; that is said, wherever it was asked. */
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
