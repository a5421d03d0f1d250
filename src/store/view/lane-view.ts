import { patternLengthTicks } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import type { LoopSpan } from "@/core/time/loop-span";
import { asTicks, type Ticks } from "@/core/time/ticks";
import { resolvedHits } from "@/core/timing/resolve-timing";
import type { ResolvedHit } from "@/core/timing/resolved-hit";
import * as choose from "@/core/editing/choose-hits";
import { barTicks } from "@/core/time/meter";
import { pageOf, panned, viewRange, zoomed, zoomStep, type ViewRange } from "@/core/time/zoom";
import { Controller } from "../state/controller";
import type { Strip, TimingScope } from "../state/workspace-state";

const NONE_IS: Readonly<Record<choose.LookedFor, string>> = {
  early: "10 ms early",
  late: "10 ms late",
  soft: "half as loud as its lane's loudest",
  covered: "covered by a louder one",
  double: "a double trigger",
};

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
    const middle = asTicks(closer && all ? 0 : part.startTicks + part.shownTicks / 2);
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
    const at = asTicks(part.startTicks + atShare * part.shownTicks);
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
    if (!inside && part.shownTicks < part.lengthTicks) this.setZoom(pageOf(part, asTicks(Math.max(0, ticks))));
  }

  showStrip(strip: Strip): void {
    this.set({ strip });
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
    const pattern = findPattern(this.beat, this.state.patternRef);
    return viewRange(this.state.zoom, patternLengthTicks(pattern, this.beat.meter));
  }

  selectAll(): void {
    this.select(choose.allHits(this.beat, this.state.patternRef));
  }

  invertSelection(): void {
    this.select(choose.invertHits(this.beat, this.state.patternRef, new Set(this.state.selected)));
  }

  /** And the hits beside them in their lanes. */
  growSelection(): void {
    this.select(choose.growHits(this.beat, this.state.patternRef, new Set(this.state.selected)));
  }

  /** The hits that are like the one that has the focus: in its lane, on its line, or in its bar. */
  selectLike(what: "lane" | "line" | "bar"): void {
    const focus = this.focused;
    if (!focus) return;
    const { hit, straightTicks } = focus;
    const { patternRef } = this.state;
    const bar = Math.max(0, Math.floor(straightTicks / barTicks(this.beat.meter)));
    const ids = {
      lane: () => choose.hitsWhere(this.beat, patternRef, { lanes: new Set([hit.lane]) }),
      line: () => choose.hitsOnLine(this.beat, patternRef, straightTicks),
      bar: () => choose.hitsInBar(this.beat, patternRef, bar),
    }[what]();
    this.select([...ids.filter((id) => id !== hit.id), hit.id]);
  }

  selectWhere(where: choose.HitsWhere): void {
    const ids = choose.hitsWhere(this.beat, this.state.patternRef, where);
    this.select(ids);
    if (ids.length === 0) this.set({ notice: "No hit is like that." });
  }

  /** To the next hit of a kind, round the loop. */
  selectNext(kind: choose.LookedFor): void {
    const next = choose.nextHit(this.beat, this.state.patternRef, kind, this.state.selected.at(-1));
    if (next === undefined) return this.set({ notice: `No hit is ${NONE_IS[kind]}.` });
    this.select([next]);
    if (this.focused) this.reveal(this.focused.ticks);
  }

  /** The chosen hit that has the focus, where it is heard. */
  get focused(): ResolvedHit | undefined {
    const focus = this.state.selected.at(-1);
    if (focus === undefined) return undefined;
    const pattern = findPattern(this.beat, this.state.patternRef);
    return resolvedHits(pattern, this.beat.meter, this.state.timingView).find(({ hit }) => hit.id === focus);
  }

  private get focusTicks(): Ticks | undefined {
    const ticks = this.focused?.ticks;
    return ticks === undefined ? undefined : asTicks(Math.max(0, ticks));
  }

  /** Only the lanes that hits lie on, or all. */
  toggleFold(): void {
    this.set({ folded: !this.state.folded });
  }
}
