import type { Beat, Mix, Part } from "@/core/beat/beat";
import { findPart, setPart } from "@/core/beat/edit";
import { addKitPart, duplicatePart, movePart, removePart, type AddedPart } from "@/core/beat/part-edit";
import { CoreError } from "@/core/core-error";
import type { BeatDocument } from "./beat-document";
import { Controller, type WorkspaceStore } from "./controller";
import type { PatternRun } from "./pattern-run";

/** The instruments of the beat: which one is open, and what is done with each; nothing here stops the loop. */
export class PartList extends Controller {
  constructor(
    store: WorkspaceStore,
    private readonly document: BeatDocument,
    private readonly patterns: PatternRun,
  ) {
    super(store);
  }

  /** Looks at a part and writes into it from here on, by its place in the list, from 0. */
  openAt(index: number): void {
    const part = this.beat.parts[index];
    if (!part) return this.set({ notice: `There is no part ${index + 1}.` });
    this.open(part.id);
  }

  open(partId: number): void {
    this.patterns.openPart(partId);
    this.set({ notice: `Part: ${findPart(this.beat, partId).name}` });
  }

  /** To the part after or before, round and round. */
  step(by: 1 | -1): void {
    const { parts } = this.beat;
    const at = parts.findIndex(({ id }) => id === this.state.place.partId);
    this.open(parts[(at + by + parts.length) % parts.length]!.id);
  }

  addKit(): void {
    this.grow("Add a part", addKitPart);
  }

  duplicate(partId: number): void {
    this.grow("Duplicate part", (beat) => duplicatePart(beat, partId));
  }

  remove(partId: number): void {
    this.document.edit(removePart(this.beat, partId), `Delete ${findPart(this.beat, partId).name}`);
  }

  rename(partId: number, name: string): void {
    this.change(partId, { name }, "Rename part");
  }

  move(partId: number, by: 1 | -1): void {
    this.document.edit(movePart(this.beat, partId, by), "Move part");
  }

  toggleMute(partId: number): void {
    const { muted } = findPart(this.beat, partId);
    this.change(partId, { muted: !muted }, muted ? "Unmute part" : "Mute part");
  }

  toggleSolo(partId: number): void {
    const { soloed } = findPart(this.beat, partId);
    this.change(partId, { soloed: !soloed }, soloed ? "End solo of part" : "Solo part");
  }

  setMix(partId: number, change: Partial<Mix>, gesture?: string): void {
    this.change(partId, { mix: { ...findPart(this.beat, partId).mix, ...change } }, "Level of part", gesture);
  }

  private change(
    partId: number,
    change: Partial<Pick<Part, "name" | "muted" | "soloed" | "mix">>,
    label: string,
    gesture?: string,
  ) {
    const next = setPart(this.beat, partId, change);
    const before = findPart(this.beat, partId);
    if (Object.entries(findPart(next, partId)).every(([key, value]) => before[key as keyof Part] === value)) return;
    this.document.edit(next, label, gesture);
  }

  private grow(label: string, make: (beat: Beat) => AddedPart): void {
    try {
      const { beat, partId } = make(this.beat);
      if (!this.document.admits(beat)) return;
      this.document.edit(beat, label);
      this.open(partId);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.set({ notice: error.message });
    }
  }
}
