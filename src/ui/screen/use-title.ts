"use client";

import { useEffect } from "react";
import { useOfBeat, useWorkspaceState } from "../workspace/use-workspace";

const APP = "Echo Pocket";

/** The tab tells what is open and what it does. */
export function useTitle(): void {
  const name = useOfBeat(({ name }) => name);
  const state = useWorkspaceState(({ transport: { running, waiting, writing } }) =>
    !running && !waiting ? "" : { record: "● Recording: ", practice: "◐ Practice: ", off: "▶ " }[writing],
  );
  useEffect(() => {
    document.title = `${state}${name} – ${APP}`;
    return () => void (document.title = APP);
  }, [state, name]);
}
