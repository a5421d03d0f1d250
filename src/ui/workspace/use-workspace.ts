"use client";

import { createContext, useContext, useEffect, useMemo, useRef } from "react";
import { useStore } from "zustand";
import type { StoreApi } from "zustand/vanilla";
import type { Beat, Instrument, Part, Pattern } from "@/core/beat/beat";
import { findPart, findPattern } from "@/core/beat/edit";
import { usedLanes, type LaneInfo } from "@/core/beat/lanes";
import type { OpenedWorkspace } from "@/store/workspace/open-workspace";
import type { Workspace } from "@/store/workspace/workspace";
import { spanOf, type WorkspaceState } from "@/store/state/workspace-state";
import { useShallow } from "zustand/shallow";
import type { LoopSpan } from "@/core/time/loop-span";
import type { Draw, PictureLoop } from "./picture-loop";

/** The open beat, and its state as it is shown. */
export interface WorkspaceView {
  readonly opened: OpenedWorkspace;
  readonly view: StoreApi<WorkspaceState>;
  readonly pictures: PictureLoop;
}

export const WorkspaceContext = createContext<WorkspaceView | undefined>(undefined);

function useWorkspaceView(): WorkspaceView {
  const context = useContext(WorkspaceContext);
  if (!context) throw new Error("A part of the workspace is drawn outside of it.");
  return context;
}

/** What can be done with the open beat as a whole: who edits it, and its sound. */
export function useOpened(): OpenedWorkspace {
  return useWorkspaceView().opened;
}

/** What can be done with the open beat. */
export function useWorkspace(): Workspace {
  return useOpened().workspace;
}

/** A slice of the workspace's state; the component is drawn again when that slice changes. */
export function useWorkspaceState<T>(select: (state: WorkspaceState) => T): T {
  return useStore(useWorkspaceView().view, select);
}

export function useBeat(): Beat {
  return useWorkspaceState(({ history }) => history.present);
}

/** A part of the beat; the component is drawn again when that part changes, and not with every stroke. */
export function useOfBeat<T>(select: (beat: Beat) => T): T {
  return useWorkspaceState(({ history }) => select(history.present));
}

/** The same of the open pattern. */
export function useOfPattern<T>(select: (pattern: Pattern) => T): T {
  return useWorkspaceState(({ history, patternRef }) => select(findPattern(history.present, patternRef)));
}

/** The open part but for what is in its patterns. */
export function useOpenInstrument(): Instrument {
  return useWorkspaceState(
    useShallow(({ history, patternRef }: WorkspaceState): Instrument => {
      const { patterns: _, ...instrument } = findPart(history.present, patternRef.partId);
      return instrument;
    }),
  );
}

export function useOpenPart(): Part {
  return useWorkspaceState(({ history, patternRef }) => findPart(history.present, patternRef.partId));
}

export function useOpenPattern(): Pattern {
  return useWorkspaceState(({ history, patternRef }) => findPattern(history.present, patternRef));
}

/** The lanes of the open part that can be named one by one: a kit's pads, of notes those that its pattern has. */
export function useUsedLanes(): readonly LaneInfo[] {
  const part = useOpenPart();
  const pattern = useOpenPattern();
  return useMemo(() => (part.kind === "kit" ? part.pads : usedLanes(part, pattern)), [part, pattern]);
}

/** The stretch of the open pattern that goes round. */
export function useOpenSpan(): LoopSpan {
  return useWorkspaceState(useShallow((state: WorkspaceState) => spanOf(state, state.patternRef)));
}

/** What draws all that moves past React. */
export function usePictures(): PictureLoop {
  return useWorkspaceView().pictures;
}

/** Draws something that moves, past React. @param draw is asked again and again as long as it, or anything else, moves */
export function useMoving(draw: Draw): void {
  const pictures = usePictures();
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
    // What it draws may be another thing now.
    pictures.wake();
  });
  useEffect(() => pictures.add((nowMs) => latest.current(nowMs)), [pictures]);
}
