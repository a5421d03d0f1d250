import { useEffect } from "react";
import { appRepository } from "@/store/persistence/app-repository";

/** While something is only in memory, the browser asks before the page goes; what fits is left for the next page, too. */
export function useLeaveWarning(): void {
  useEffect(() => {
    const { beats } = appRepository();
    const ask = (event: BeforeUnloadEvent) => {
      if (beats.hasUnwritten) event.preventDefault();
    };
    const leave = () => beats.leaveUnwritten();
    window.addEventListener("beforeunload", ask);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("beforeunload", ask);
      window.removeEventListener("pagehide", leave);
    };
  }, []);
}
