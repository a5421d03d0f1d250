import {
  findSounds,
  type AlsoStruck,
  type PartLanes,
  type Sound,
  type SoundId,
  type Sounds,
  type StruckSound,
} from "../signal/sound";

const NOTHING: readonly AlsoStruck[] = [];

/** What the lanes of parts strike of the sounds that are there. A lane is looked up once: nothing is made while it plays. */
export class StruckSounds {
  private readonly sounds = new Map<string, Sound>();
  private readonly parts = new Map<number, PartLanes>();
  /** By part and lane; undefined where nobody has looked. */
  private readonly found = new Map<number, (readonly StruckSound[] | undefined)[]>();

  constructor(private readonly sampleRate: number) {}

  /** Sounds that are there from here on. */
  add(sounds: Sounds): void {
    for (const [id, sound] of Object.entries(sounds)) this.sounds.set(id, sound);
    this.found.clear();
  }

  /** Sounds that are needed no more; what rings of them rings on. */
  drop(ids: readonly SoundId[]): void {
    for (const id of ids) this.sounds.delete(id);
    this.found.clear();
  }

  /** What a part strikes from here on; undefined where it is gone. */
  setLanes(partId: number, lanes: PartLanes | undefined): void {
    this.found.delete(partId);
    if (lanes) this.parts.set(partId, lanes);
    else this.parts.delete(partId);
  }

  /** @returns none for a lane that is silent, or whose sounds are not there yet */
  of(partId: number, lane: number): readonly StruckSound[] {
    const found = this.found.get(partId) ?? this.foundAnew(partId);
    let struck = found[lane];
    if (struck === undefined) {
      const lanes = this.parts.get(partId);
      struck = lanes ? findSounds(lanes, lane, this.sounds, this.sampleRate) : [];
      found[lane] = struck;
    }
    return struck;
  }

  /** The parts that sound along with a part. */
  also(partId: number): readonly AlsoStruck[] {
    return this.parts.get(partId)?.also ?? NOTHING;
  }

  private foundAnew(partId: number): (readonly StruckSound[] | undefined)[] {
    const found: (readonly StruckSound[] | undefined)[] = [];
    this.found.set(partId, found);
    return found;
  }
}
