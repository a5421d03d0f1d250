import { findPattern } from "@/core/beat/edit";
import { removeHits } from "@/core/beat/edits/pass-edit";
import { patternLengthTicks, type PatternRef } from "@/core/beat/beat";
import { enterStep, goOn, stepBack, tieStep, type StepSettings, type StepStroke } from "@/core/editing/step-input";
import { asTicks, type Ticks } from "@/core/time/ticks";
import type { BeatDocument } from "../document/beat-document";
import type { LaneView } from "../view/lane-view";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { StepCursor } from "../state/workspace-state";

/** Strokes so close to the first one of a step belong to it. */
const TOGETHER_MS = 45;

/** A step that was made, for taking it back. */
interface Step {
  readonly patternRef: PatternRef;
  readonly from: Ticks;
  readonly ids: readonly number[];
  readonly lanes: readonly number[];
  readonly firstMs: number;
  readonly key: string;
}

/** Writes without playing: each stroke goes to the cursor, which walks on along the grid. */
export class StepInput extends Controller {
  /** Steps and rests, the newest last. */
  private trail: readonly Step[] = [];
  private count = 0;

  constructor(
    store: WorkspaceStore,
    private readonly document: BeatDocument,
    private readonly lanes: LaneView,
  ) {
    super(store);
    document.onChange(() => this.follow());
  }

  /** Strokes of a part are written, not recorded. While record is on they are recorded all the same. */
  takes(partId: number): boolean {
    const { step, patternRef, transport, readOnly } = this.state;
    return step.on && partId === patternRef.partId && transport.writing !== "record" && !readOnly;
  }

  toggle(): void {
    const { step } = this.state;
    this.trail = [];
    this.set({
      step: { ...step, on: !step.on, at: this.cursor },
      notice: step.on ? "Step input off" : "Step input on",
    });
  }

  setSettings(change: Partial<StepSettings & Pick<StepCursor, "velocity">>): void {
    this.set({ step: { ...this.state.step, ...change } });
  }

  /** @param velocity as struck, 1..127 */
  strike(stroke: StepStroke, timeMs: number): void {
    const { step, patternRef } = this.state;
    const last = this.trail.at(-1);
    // One pad twice is two steps, however quick.
    const together =
      last !== undefined &&
      last.ids.length > 0 &&
      timeMs - last.firstMs < TOGETHER_MS &&
      !last.lanes.includes(stroke.lane);
    const from = together ? last.from : this.cursor;
    const velocity = step.velocity === "struck" ? stroke.velocity : step.velocity;
    // What is struck along with the first one finds its room made.
    const insert = together && step.insert === "all" ? "off" : step.insert;
    const entered = enterStep(this.beat, patternRef, from, [{ ...stroke, velocity }], { ...step, insert });
    if (entered.ids.length === 0) return this.set({ notice: "The loop's end is reached; ← goes back." });
    const key = together ? last.key : `step ${++this.count}`;
    const made = {
      patternRef,
      from,
      ids: [...(together ? last.ids : []), ...entered.ids],
      lanes: [...(together ? last.lanes : []), stroke.lane],
      firstMs: together ? last.firstMs : timeMs,
      key,
    };
    if (!this.document.edit(entered.beat, "Step", key)) return;
    this.trail = [...(together ? this.trail.slice(0, -1) : this.trail), made];
    this.walkTo(entered.next);
  }

  /** A rest, or a line back. */
  walk(by: 1 | -1): void {
    const { step, patternRef } = this.state;
    if (by < 0) return this.walkTo(stepBack(this.beat, patternRef, this.cursor));
    const from = this.cursor;
    const on = goOn(this.beat, patternRef, from, step.atEnd);
    if (on.beat !== this.beat && !this.document.edit(on.beat, "Longer loop")) return;
    this.trail = [...this.trail, { patternRef, from, ids: [], lanes: [], firstMs: 0, key: "" }];
    this.walkTo(on.next);
  }

  /** What was entered last goes on for another line. */
  tie(): void {
    const last = this.trail.at(-1);
    if (!last || last.ids.length === 0) return this.set({ notice: "A tie lengthens the step before; there is none." });
    const to = this.cursor;
    const tied = tieStep(this.beat, last.patternRef, new Set(last.ids), last.from, to);
    if (!this.document.edit(tied, "Tie", last.key)) return;
    const { next } = goOn(this.beat, last.patternRef, to, this.state.step.atEnd);
    this.walkTo(next);
  }

  /** Takes the last step back, or the rest. */
  takeBack(): void {
    const { trail } = this;
    const last = trail.at(-1);
    if (!last) return this.walk(-1);
    this.trail = trail.slice(0, -1);
    // Another window may have the beat by now: then the step stays.
    if (last.ids.length > 0 && !this.takeOut(last)) this.trail = trail;
    else this.walkTo(last.from);
  }

  /** @returns whether the beat took it */
  private takeOut({ patternRef, ids, key }: Step): boolean {
    if (this.state.history.past.at(-1)?.mergeKey === key) {
      const before = this.beat;
      this.document.undo();
      return this.beat !== before;
    }
    const without = removeHits(this.beat, patternRef, ({ id }) => ids.includes(id));
    return this.document.edit(without, "Take a step back");
  }

  /** Where the next step goes: a line of the open pattern, or its end. */
  get cursor(): Ticks {
    const { step, patternRef } = this.state;
    const length = patternLengthTicks(findPattern(this.beat, patternRef), this.beat.meter);
    return step.at > length ? asTicks(0) : step.at;
  }

  private walkTo(at: Ticks): void {
    this.set({ step: { ...this.state.step, at } });
    this.lanes.reveal(at);
  }

  /** A step that was undone is gone back to. */
  private follow(): void {
    const last = this.trail.at(-1);
    if (!this.state.step.on || !last || last.ids.length === 0) return;
    const part = this.beat.parts.find(({ id }) => id === last.patternRef.partId);
    const pattern = part?.patterns.find(({ id }) => id === last.patternRef.patternId);
    const there = pattern?.passes.some(({ hits }) => hits.some(({ id }) => last.ids.includes(id)));
    if (there) return;
    this.trail = this.trail.slice(0, -1);
    if (pattern) this.walkTo(last.from);
  }
}
