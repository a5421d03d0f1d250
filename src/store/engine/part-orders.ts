import type { Beat, Part } from "@/core/beat/beat";
import { followersOf } from "@/core/beat/edits/also-plays";
import { partMix, sameMix } from "@/core/playback/part-mix";
import { partLanes } from "@/core/playback/part-sounds";
import { sameItems } from "@/core/remember";
import { playableLanes } from "@/core/playback/playable-lanes";
import type { LaneSounds, SoundId } from "@/core/sound/signal/sound";
import type { LaneMix } from "@/core/sound/player/track";
import type { ToEngine } from "@/engine/protocol";

/** What the audio thread was told of each part beside its table: what its lanes strike, and how they are heard. */
export class PartOrders {
  /** By part, what the lanes that it was told are made of. */
  private readonly lanes = new Map<number, readonly unknown[]>();
  /** By part, the same as they were sent; and parts of which some sounds are not there yet. */
  private readonly sent = new Map<number, LaneSounds>();
  private readonly waiting = new Set<number>();
  /** By part, how its lanes are heard; all parts that it knows. */
  private readonly mixes = new Map<number, LaneMix>();

  /** @param has whether a sound can be played by now */
  constructor(
    private readonly send: (order: ToEngine) => void,
    private readonly has: (id: SoundId) => boolean,
  ) {}

  /** Another audio thread knows nothing. */
  forgetAll(): void {
    this.lanes.clear();
    this.sent.clear();
    this.waiting.clear();
    this.mixes.clear();
  }

  /** What the lanes of parts strike. A lane whose new sounds are not there yet keeps the ones before, so that no hit is lost. */
  tellLanes(beat: Beat, soundsCame = false): void {
    for (const part of beat.parts) {
      const made = [...followersOf(beat, part), part].flatMap(soundsMadeOf);
      const before = this.lanes.get(part.id);
      if (before && sameItems(before, made) && !(soundsCame && this.waiting.has(part.id))) continue;
      this.lanes.set(part.id, made);
      const wanted = partLanes(beat, part);
      const { lanes, complete } = playableLanes(wanted.lanes, this.sent.get(part.id), this.has);
      if (complete) this.waiting.delete(part.id);
      else this.waiting.add(part.id);
      this.sent.set(part.id, lanes);
      this.send({ type: "lanes", partId: part.id, lanes: { ...wanted, lanes } });
    }
  }

  /** The same of parts that the audio thread has: what is moved is heard with the next block. */
  tellKnownMixes(beat: Beat, isRecorded: (partId: number) => boolean): void {
    const parts = beat.parts.filter(({ id }) => this.mixes.has(id));
    this.tellMixes({ ...beat, parts }, isRecorded);
  }

  /** Levels, places, mutes and solos of parts and pads, for which no table is made. @param isRecorded heard whatever is muted */
  tellMixes(beat: Beat, isRecorded: (partId: number) => boolean): void {
    for (const part of beat.parts) {
      const mix = partMix(beat, part, isRecorded(part.id));
      const before = this.mixes.get(part.id);
      if (before && sameMix(mix, before)) continue;
      this.mixes.set(part.id, mix);
      this.send({ type: "mix", partId: part.id, mix });
    }
  }

  /** Parts that are gone play no more. @param gone called for each of them */
  dropParts({ parts }: Beat, gone: (partId: number) => void): void {
    for (const partId of this.mixes.keys()) {
      if (parts.some(({ id }) => id === partId)) continue;
      this.send({ type: "remove", partId });
      this.lanes.delete(partId);
      this.sent.delete(partId);
      this.waiting.delete(partId);
      this.mixes.delete(partId);
      gone(partId);
    }
  }
}

/** What decides which sounds a part strikes; a copy of a part is another one. */
function soundsMadeOf(part: Part): readonly unknown[] {
  return part.kind === "kit" ? [part.id, part.kitId, part.pads] : [part.id, part.voiceId, part.transpose];
}
