import type { Beat } from "@/core/beat/beat";
import { findPart } from "@/core/beat/edit";
import { whereChanged } from "@/core/beat/where-changed";
import type { PatternSegment } from "../engine/pattern-segment";
import { Controller, type WorkspaceStore } from "../state/controller";
import { placeOf } from "../state/workspace-state";
import type { LaneView } from "./lane-view";

/** Shows what undo and redo changed: goes to its part, pattern and place, and marks its hits. */
export class ChangeView extends Controller {
  constructor(
    store: WorkspaceStore,
    private readonly patterns: Pick<PatternSegment, "goTo" | "openPart">,
    private readonly lanes: LaneView,
  ) {
    super(store);
  }

  /** @param before as it was until now */
  show(before: Beat): void {
    const change = whereChanged(before, this.beat, this.state.patternRef);
    this.set({ marked: change?.hitIds ?? [] });
    if (!change) return;
    this.goTo(change.partId, change.patternId ?? placeOf(this.state, change.partId).patternId);
    if (change.ticks !== undefined && change.patternId === this.state.patternRef.patternId)
      this.lanes.reveal(change.ticks);
  }

  /** While the loop runs nobody's strokes are sent elsewhere for it: then it is said where it was. */
  private goTo(partId: number, patternId: number): void {
    const { patternRef, transport, notice } = this.state;
    if (partId === patternRef.partId && patternId === patternRef.patternId) return;
    const part = findPart(this.beat, partId);
    if (!transport.running) {
      if (partId !== patternRef.partId) this.patterns.openPart(partId);
      if (placeOf(this.state, partId).patternId !== patternId) this.patterns.goTo({ partId, patternId });
      return this.set({ notice });
    }
    const name = part.patterns.find(({ id }) => id === patternId)?.name;
    this.set({ notice: `${notice}, in ${name} of ${part.name}` });
  }
}
