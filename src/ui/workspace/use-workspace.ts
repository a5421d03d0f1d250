"use client";

import { createContext, useContext, useEffect, useRef } from "react";
import { useStore } from "zustand";
import type { Beat, Part, Pattern } from "@/core/beat/beat";
import { findPart, findPattern } from "@/core/beat/edit";
import type { Workspace } from "@/store/workspace";
import type { WorkspaceState } from "@/store/workspace-state";

export const WorkspaceContext = createContext<Workspace | undefined>(undefined);

/** The open beat and what can be done with it. */
export function useWorkspace(): Workspace {
  const workspace = useContext(WorkspaceContext);
  if (!workspace) throw new Error("A part of the workspace is drawn outside of it.");
  return workspace;
}

/** A slice of the workspace's state; the component is drawn again when that slice changes. */
export function useWorkspaceState<T>(select: (state: WorkspaceState) => T): T {
  return useStore(useWorkspace().store, select);
}

export function useBeat(): Beat {
  return useWorkspaceState(({ history }) => history.present);
}

export function useOpenPart(): Part {
  return useWorkspaceState(({ history, place }) => findPart(history.present, place.partId));
}

export function useOpenPattern(): Pattern {
  return useWorkspaceState(({ history, place }) => findPattern(history.present, place));
}

/** Calls back before every picture the browser draws. */
export function useFrame(draw: (performanceMs: number) => void): void {
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  });
  useEffect(() => {
    let handle = requestAnimationFrame(function frame() {
      // The callback's own stamp is the frame's start; what is audible is asked for the moment it is drawn.
      latest.current(performance.now());
      handle = requestAnimationFrame(frame);
    });
    return () => cancelAnimationFrame(handle);
  }, []);
}
