"use client";

import Link from "next/link";
import { useEffect, useState } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { appRepository } from "@/store/app-repository";
import { openWorkspace } from "@/store/open-workspace";
import type { Workspace } from "@/store/workspace";
import type { Theme } from "../theme/theme-cookie";
import { RescuePage } from "./rescue-page";
import { WorkspaceContext } from "./use-workspace";
import { WorkspaceView } from "./workspace-view";
import styles from "./workspace.module.scss";

type Opened =
  { readonly status: "opening" | "missing" | "failed" } | { readonly status: "open"; readonly workspace: Workspace };

/** Opens a beat for as long as the page is shown. */
export function WorkspacePage({ beatId, theme }: { readonly beatId: string; readonly theme: Theme }) {
  const opened = useOpenedWorkspace(beatId);
  if (opened.status === "open") {
    const { workspace } = opened;
    return (
      <ErrorBoundary fallbackRender={({ error }) => <RescuePage beat={workspace.beat} error={error} />}>
        <WorkspaceContext value={workspace}>
          <WorkspaceView theme={theme} />
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
    const opening = openWorkspace(beatId, appRepository());
    opening.then(
      (result) => !left && setOpened(result ? { status: "open", workspace: result.workspace } : { status: "missing" }),
      () => !left && setOpened({ status: "failed" }),
    );
    return () => {
      left = true;
      void opening.then((result) => result?.close());
    };
  }, [beatId]);
  return opened;
}
