"use client";

import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import { Download } from "../icons/generated/download";
import { lazyView } from "../common/lazy-view";
import { wordsOf } from "@/store/words-of";

const ExportItems = lazyView(() => import("./export-items"));

/** Takes the beat away; what it can be taken away as is fetched when it is looked at first. */
export function ExportMenu() {
  const { attempt, busy, failure } = useAttempt();
  const [open, setOpen] = useState(false);
  return (
    <Dropdown align="end" show={open} onToggle={setOpen}>
      <Dropdown.Toggle
        as="button"
        type="button"
        className="btn"
        bsPrefix="export"
        aria-label="Export"
        title="Export"
        disabled={busy !== ""}
      >
        {busy ? "…" : <Download aria-hidden />}
      </Dropdown.Toggle>
      <span className="visually-hidden" role="status">
        {busy && `Writing the ${busy}`}
        {failure}
      </span>
      <Dropdown.Menu>{open && <ExportItems onChoose={(what, write) => void attempt(what, write)} />}</Dropdown.Menu>
    </Dropdown>
  );
}

/** One piece of work at a time, and what became of it. */
function useAttempt() {
  const [busy, setBusy] = useState("");
  const [failure, setFailure] = useState("");
  const attempt = async (what: string, work: () => Promise<void>) => {
    setBusy(what);
    setFailure("");
    try {
      await work();
    } catch (error) {
      setFailure(wordsOf(error));
    }
    setBusy("");
  };
  return { attempt, busy, failure };
}
