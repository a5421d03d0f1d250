import { patternLengthTicks } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import type { LoopSpan } from "@/core/time/loop-span";
import type { Ticks } from "@/core/time/ticks";
import { pageOf, panned, viewRange, zoomed, zoomStep, type ViewRange } from "@/core/time/zoom";
import { Controller } from "../workspace/controller";
import type { TimingScope } from "../workspace/workspace-state";

/** What of the open pattern is looked at, and which of its hits are meant. */
export class LaneView extends Controller {
  /** @param span undefined for all of the pattern */
  setZoom(span: LoopSpan | undefined): void {
    this.set({ zoom: span });
  }

  /** A step closer, around the selected hit where there is one, or a step further off. */
  zoom(closer: boolean): void {
    const part = this.part;
    const all = part.shownTicks === part.lengthTicks;
    const middle = (closer && all ? 0 : part.startTicks + part.shownTicks / 2) as Ticks;
    const { meter } = this.beat;
    this.setZoom(zoomed(part, zoomStep(part, closer, meter), this.focusTicks ?? middle, meter));
  }

  /**
   * Closer or further off, from what is shown now: two turns of a wheel may come within one picture.
   * @param factor below 1 shows less
   * @param atShare of what is shown, 0..1: that place stays where it is
   */
  zoomAt(factor: number, atShare: number): void {
    const part = this.part;
    const at = (part.startTicks + atShare * part.shownTicks) as Ticks;
    this.setZoom(zoomed(part, factor, at, this.beat.meter));
  }

  /** @param byShare of what is shown; negative goes back */
  pan(byShare: number): void {
    this.setZoom(panned(this.part, byShare));
  }

  /** Turns to the page on which a place lies, where it is not in sight. */
  reveal(ticks: Ticks): void {
    const part = this.part;
    const inside = ticks >= part.startTicks && ticks < part.startTicks + part.shownTicks;
    if (!inside && part.shownTicks < part.lengthTicks) this.setZoom(pageOf(part, Math.max(0, ticks) as Ticks));
  }

  toggleFollow(): void {
    this.set({ follow: !this.state.follow });
  }

  /** Selects hits; the timing panel is then about them. @param ids the last one has the focus */
  select(ids: readonly number[]): void {
    const { timingScope } = this.state;
    const scope: TimingScope = ids.length > 0 ? { kind: "selected" } : { kind: "next" };
    this.set({ selected: ids, timingScope: ids.length > 0 || timingScope.kind === "selected" ? scope : timingScope });
  }

  private get part(): ViewRange {
    const pattern = findPattern(this.beat, this.state.place);
    return viewRange(this.state.zoom, patternLengthTicks(pattern, this.beat.meter));
  }

  private get focusTicks(): Ticks | undefined {
    const focus = this.state.selected.at(-1);
    const hits = findPattern(this.beat, this.state.place).passes.flatMap((pass) => pass.hits);
    const ticks = hits.find(({ id }) => id === focus)?.played.ticks;
    return ticks === undefined ? undefined : (Math.max(0, ticks) as Ticks);
  }

  /** Only the lanes that hits lie on, or all. */
  toggleFold(): void {
    this.set({ folded: !this.state.folded });
  }
}
