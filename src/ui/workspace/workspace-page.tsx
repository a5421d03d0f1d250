"use client";

import Link from "next/link";
import { usePathname } from "next/navigation";
import { useEffect, useState } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { appRepository } from "@/store/app-repository";
import { openWorkspace, type OpenedWorkspace } from "@/store/open-workspace";
import type { Theme } from "../theme/theme-cookie";
import { RescuePage } from "./rescue-page";
import { WorkspaceContext, type WorkspaceView } from "./use-workspace";
import { createViewStore } from "./view-store";
import { WorkspaceScreen } from "./workspace-screen";
import styles from "./workspace.module.scss";

type Opened =
  { readonly status: "opening" | "missing" | "failed" } | { readonly status: "open"; readonly context: WorkspaceView };

/** Opens a beat for as long as the page is shown. */
export function WorkspacePage({ theme }: { readonly theme: Theme }) {
  // Not from the server: the page that is kept for offline use was made for no beat.
  const beatId = usePathname().split("/")[2];
  const opened = useOpenedWorkspace(beatId);
  if (opened.status === "open") {
    const { workspace } = opened.context;
    return (
      <ErrorBoundary fallbackRender={({ error }) => <RescuePage beat={workspace.beat} error={error} />}>
        <WorkspaceContext value={opened.context}>
          <WorkspaceScreen theme={theme} />
        </WorkspaceContext>
      </ErrorBoundary>
    );
  }
  return (
    <main className={styles.message}>
      {opened.status === "opening" && <p role="status">Opening the beat…</p>}
      {opened.status !== "opening" && (
        <>
          <h1>{opened.status === "missing" ? "There is no such beat here." : "The beat could not be opened."}</h1>
          <p>
            Beats live in the browser they were made in. <Link href="/">Go to the shelf</Link>
          </p>
        </>
      )}
    </main>
  );
}

function useOpenedWorkspace(beatId: string): Opened {
  const [opened, setOpened] = useState<Opened>({ status: "opening" });
  useEffect(() => {
    let left = false;
    let closeView = () => {};
    const opening = openWorkspace(beatId, appRepository());
    const show = (result: OpenedWorkspace | undefined) => {
      if (left) return;
      if (!result) return setOpened({ status: "missing" });
      const { workspace } = result;
      const { store, close } = createViewStore(workspace.store);
      closeView = close;
      setOpened({ status: "open", context: { workspace, view: store } });
    };
    opening.then(show, () => !left && setOpened({ status: "failed" }));
    return () => {
      left = true;
      closeView();
      void opening.then((result) => result?.close());
    };
  }, [beatId]);
  return opened;
}
