import type { StoreApi } from "zustand/vanilla";
import type { Beat } from "@/core/beat/beat";
import type { WorkspaceState } from "./workspace-state";

export type WorkspaceStore = StoreApi<WorkspaceState>;

/** One concern of an open beat; all of them read and change the same state. */
export abstract class Controller {
  constructor(readonly store: WorkspaceStore) {}

  get state(): WorkspaceState {
    return this.store.getState();
  }

  get beat(): Beat {
    return this.state.history.present;
  }

  protected set(change: Partial<WorkspaceState>): void {
    const said = change.notice ? { noticeCount: this.state.noticeCount + 1 } : {};
    this.store.setState({ ...change, ...said });
  }
}
