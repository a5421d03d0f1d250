"use client";

import Link from "next/link";
import { usePathname } from "next/navigation";
import { useEffect, useState } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { appRepository } from "@/store/persistence/app-repository";
import type { Repository } from "@/store/persistence/repository";
import { openWorkspace, type Opened, type OpenedWorkspace } from "@/store/workspace/open-workspace";
import { download } from "../common/download";
import type { Theme } from "../theme/theme-cookie";
import type { Workspace } from "@/store/workspace/workspace";
import { PictureLoop } from "../workspace/picture-loop";
import { RescuePage } from "./rescue-page";
import { WorkspaceContext, type WorkspaceView } from "../workspace/use-workspace";
import { createViewStore } from "../workspace/view-store";
import { WorkspaceScreen } from "./workspace-screen";
import styles from "./workspace.module.scss";

type Shown =
  | { readonly status: "opening" | "failed" }
  | Exclude<Opened, OpenedWorkspace>
  | { readonly status: "open"; readonly context: WorkspaceView };

/** Opens a beat for as long as the page is shown. */
export function WorkspacePage({ theme }: { readonly theme: Theme }) {
  // Not from the server: the page that is kept for offline use was made for no beat.
  const beatId = usePathname().split("/")[2]!;
  const opened = useOpenedWorkspace(beatId);
  if (opened.status !== "open") return <NoWorkspace opened={opened} />;
  const { workspace } = opened.context.opened;
  return (
    <ErrorBoundary fallbackRender={({ error }) => <RescuePage beat={workspace.beat} error={error} />}>
      <WorkspaceContext value={opened.context}>
        <WorkspaceScreen theme={theme} />
      </WorkspaceContext>
    </ErrorBoundary>
  );
}

/** Interval for loading the checks again. */
const CHECK_RETRY_MS = 3000;

const TITLES = {
  missing: "There is no such beat here.",
  failed: "The beat could not be opened.",
  damaged: "This beat can’t be read.",
  unanswered: "The browser’s store does not answer.",
  unchecked: "A part of the app could not be loaded.",
} as const;

const TEXTS = {
  missing: "Beats live in the browser they were made in.",
  failed: "It is as it was. Load the page again.",
  damaged: "It is kept as it is: a file of it can be mended by hand or sent to somebody.",
  unanswered: "The beat is as it was, and opens as soon as the store answers.",
  unchecked: "The beat is as it was, and opens as soon as that part comes; it is tried again every few seconds.",
} as const;

function NoWorkspace({ opened }: { readonly opened: Exclude<Shown, { readonly status: "open" }> }) {
  if (opened.status === "opening")
    return (
      <main className={styles.message}>
        <p role="status">Opening the beat…</p>
      </main>
    );
  return (
    <main className={styles.message}>
      <h1>{TITLES[opened.status]}</h1>
      <p>
        {TEXTS[opened.status]} <Link href="/">Go to the shelf</Link>
      </p>
      {opened.status === "damaged" && (
        <>
          <p className="numerals">{opened.problem}</p>
          <button
            type="button"
            className="btn btn-primary"
            onClick={() => download(JSON.stringify(opened.record), "beat-as-it-is.json", "application/json")}
          >
            Save as it is
          </button>
        </>
      )}
      {(opened.status === "unanswered" || opened.status === "unchecked" || opened.status === "failed") && (
        <button type="button" className="btn btn-primary" onClick={() => location.reload()}>
          Load again
        </button>
      )}
    </main>
  );
}

/** Open as soon as it can be: a store that gives no answer may just be coming round after the browser was killed. */
function useOpenedWorkspace(beatId: string): Shown {
  const [shown, setShown] = useState<Shown>({ status: "opening" });
  const [tries, setTries] = useState(0);
  useEffect(() => {
    let left = false;
    let closeView = () => {};
    let undoWait = () => {};
    const repository = appRepository();
    const opening = openWorkspace(beatId, repository);
    const show = (opened: Opened) => {
      if (left) return;
      const again = () => setTries((count) => count + 1);
      if (opened.status === "unanswered") undoWait = whenAnswering(repository, again);
      if (opened.status === "unchecked") undoWait = afterAWhile(again);
      if (opened.status !== "open") return setShown(opened);
      const { store, close } = createViewStore(opened.workspace.store);
      const { pictures, close: closePictures } = picturesOf(opened.workspace);
      closeView = () => {
        close();
        closePictures();
      };
      setShown({ status: "open", context: { opened, view: store, pictures } });
    };
    opening.then(show, () => !left && setShown({ status: "failed" }));
    return () => {
      left = true;
      closeView();
      undoWait();
      repository.whileClosing(opening.then((opened) => (opened.status === "open" ? opened.close() : undefined)));
    };
  }, [beatId, tries]);
  return shown;
}

/** The pictures of an open beat: whatever may set something in motion wakes them. */
function picturesOf({ store, levels, router }: Workspace) {
  const pictures = new PictureLoop();
  const undos = [store.subscribe(pictures.wake), levels.onChange(pictures.wake), router.onStrike(pictures.wake)];
  const close = () => {
    undos.forEach((undo) => undo());
    pictures.close();
  };
  return { pictures, close };
}

/** @returns the undo */
function afterAWhile(work: () => void): () => void {
  const timer = setTimeout(work, CHECK_RETRY_MS);
  return () => clearTimeout(timer);
}

/** Calls back once the store answers, also where it does by now. @returns the undo */
function whenAnswering(repository: Repository, work: () => void): () => void {
  const ask = () => {
    if (repository.memoryReason === undefined) work();
  };
  const undo = repository.onMemoryReason(ask);
  ask();
  return undo;
}
