import type { Beat, Mix, Part } from "@/core/beat/beat";
import { playsItself } from "@/core/beat/edits/also-plays";
import { findPart, setPart, setTonal, type TonalChange } from "@/core/beat/edit";
import { setPartMix } from "@/core/beat/edits/mix-edit";
import {
  addKitPart,
  addTonalPart,
  duplicatePart,
  movePart,
  removePart,
  type AddedPart,
} from "@/core/beat/edits/part-edit";
import type { Scale } from "@/core/beat/scale";
import { CoreError } from "@/core/core-error";
import type { VoiceId } from "@/core/instruments";
import type { BeatDocument } from "../document/beat-document";
import { mixWord } from "./mix-desk";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { PatternSegment } from "../engine/pattern-segment";

/** A voice's first key lies within so many octaves of where it usually does. */
const MOST_OCTAVES = 3;

const DEFAULT_SCALE: Scale = { root: 0, name: "major" };

export interface PartListDeps {
  readonly document: BeatDocument;
  readonly patterns: PatternSegment;
}

/** The instruments of the beat: which one is open, and what is done with each; nothing here stops the loop. */
export class PartList extends Controller {
  constructor(
    store: WorkspaceStore,
    private readonly deps: PartListDeps,
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
    this.deps.patterns.openPart(partId);
    this.set({ notice: `Part: ${findPart(this.beat, partId).name}` });
  }

  /** To the part after or before, round and round. */
  step(by: 1 | -1): void {
    const { parts } = this.beat;
    const at = parts.findIndex(({ id }) => id === this.state.patternRef.partId);
    this.open(parts[(at + by + parts.length) % parts.length]!.id);
  }

  addKit(): void {
    this.grow("Add a part", (beat) => addKitPart(beat, this.state.patternRef));
  }

  addVoice(voiceId: VoiceId): void {
    this.grow("Add a part", (beat) => addTonalPart(beat, voiceId, this.state.patternRef));
  }

  duplicate(partId: number): void {
    this.grow("Duplicate part", (beat) => duplicatePart(beat, partId));
  }

  remove(partId: number): void {
    this.deps.document.edit(removePart(this.beat, partId), `Delete ${findPart(this.beat, partId).name}`);
  }

  rename(partId: number, name: string): void {
    this.change(partId, { name }, "Rename part");
  }

  move(partId: number, by: 1 | -1): void {
    this.deps.document.edit(movePart(this.beat, partId, by), "Move part");
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
    const label = `${mixWord(change)} of ${findPart(this.beat, partId).name}`;
    this.deps.document.edit(setPartMix(this.beat, partId, change), label, gesture);
  }

  /** What a tonal part sounds as, and what its keys play. */
  setTonal(partId: number, change: TonalChange, gesture?: string): void {
    const label = "voiceId" in change ? "Voice" : "scale" in change ? "Scale" : "Transpose";
    this.deps.document.edit(setTonal(this.beat, partId, change), label, gesture);
  }

  /** What the keys play, from what it is now: two choices may come within one picture. @param change chords undefined: notes */
  setScale(partId: number, change: { [Key in keyof Scale]?: Scale[Key] | undefined }): void {
    const part = findPart(this.beat, partId);
    if (part.kind === "kit") return;
    const { chords, ...scale } = { ...DEFAULT_SCALE, ...part.scale, ...change };
    this.setTonal(partId, { scale: { ...scale, ...(chords && { chords }) } as Scale });
  }

  /** Lets a part sound what is played in another one; refused where that would lead back to it. */
  setAlsoPlays(partId: number, otherId: number | undefined): void {
    const next = setPart(this.beat, partId, { alsoPlays: otherId });
    if (playsItself(next, findPart(next, partId))) {
      const { name } = findPart(this.beat, partId);
      return this.set({ notice: `That would lead back to ${name}: parts can't play each other in a circle.` });
    }
    this.deps.document.edit(next, "Also plays");
  }

  /** Moves the keys of a tonal part by octaves. */
  shiftOctave(by: 1 | -1): void {
    const { partId } = this.state.patternRef;
    if (findPart(this.beat, partId).kind !== "tonal") return;
    const before = this.state.octaves[partId] ?? 0;
    const octave = Math.max(-MOST_OCTAVES, Math.min(MOST_OCTAVES, before + by));
    this.set({
      octaves: { ...this.state.octaves, [partId]: octave },
      notice: `Octave ${octave > 0 ? `+${octave}` : octave}`,
    });
  }

  private change(partId: number, change: Partial<Pick<Part, "name" | "muted" | "soloed">>, label: string) {
    const next = setPart(this.beat, partId, change);
    const before = findPart(this.beat, partId);
    if (Object.entries(findPart(next, partId)).every(([key, value]) => before[key as keyof Part] === value)) return;
    this.deps.document.edit(next, label);
  }

  private grow(label: string, make: (beat: Beat) => AddedPart): void {
    try {
      const { beat, partId } = make(this.beat);
      if (this.deps.document.edit(beat, label)) this.open(partId);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.set({ notice: error.message });
    }
  }
}
