"use client";

import { useEffect, useState } from "react";
import { KeptStates } from "@/store/document/kept-states";
import { useOpened } from "../workspace/use-workspace";
import { KeptStateList } from "./kept-state-list";
import { StepList } from "./step-list";

/** What was done in the beat, with the way back to any of it, and whole states that were kept under a name. */
export default function HistoryPanel() {
  const { workspace, repository } = useOpened();
  const [states] = useState(() => new KeptStates(workspace.store, repository, workspace.document));
  useEffect(() => void states.open(), [states]);
  return (
    <>
      <KeptStateList states={states} />
      <StepList />
    </>
  );
}
