import { findSound, type AlsoStruck, type PartLanes, type Sound, type Sounds, type StruckSound } from "./sound";

const NOTHING: readonly AlsoStruck[] = [];

/** What the lanes of parts strike of the sounds that are there. A lane is looked up once: nothing is made while it plays. */
export class StruckSounds {
  private readonly sounds = new Map<string, Sound>();
  private readonly parts = new Map<number, PartLanes>();
  /** By part and lane; null where nothing sounds, undefined where nobody has looked. */
  private readonly found = new Map<number, (StruckSound | null | undefined)[]>();

  /** Sounds that are there from here on. */
  add(sounds: Sounds): void {
    for (const [id, sound] of Object.entries(sounds)) this.sounds.set(id, sound);
    this.found.clear();
  }

  /** What a part strikes from here on; undefined where it is gone. */
  setLanes(partId: number, lanes: PartLanes | undefined): void {
    this.found.delete(partId);
    if (lanes) this.parts.set(partId, lanes);
    else this.parts.delete(partId);
  }

  /** @returns null for a lane that is silent, or whose sound is not there yet */
  of(partId: number, lane: number): StruckSound | null {
    const found = this.found.get(partId) ?? this.foundAnew(partId);
    let struck = found[lane];
    if (struck === undefined) {
      const lanes = this.parts.get(partId);
      struck = (lanes && findSound(lanes, lane, this.sounds)) ?? null;
      found[lane] = struck;
    }
    return struck;
  }

  /** The parts that sound along with a part. */
  also(partId: number): readonly AlsoStruck[] {
    return this.parts.get(partId)?.also ?? NOTHING;
  }

  private foundAnew(partId: number): (StruckSound | null | undefined)[] {
    const found: (StruckSound | null | undefined)[] = [];
    this.found.set(partId, found);
    return found;
  }
}
