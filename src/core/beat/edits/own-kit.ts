import type { KitId } from "../../instruments";
import { DRUM_IDS, DRUMS } from "../../drums";
import type { Beat, DrumSource, KitPart, Lane, Pad, PadLayer, PadSound } from "../beat";
import { editPart, withoutUndefined } from "../edit";

/** A pad of a kit of the player's own. */
export interface KitPad extends PadSound {
  readonly name: string;
  readonly note: number;
  readonly mix: Pad["mix"];
}

/** A kit of the player's own. */
export interface OwnKit {
  readonly name: string;
  readonly pads: readonly KitPad[];
}

/**
 * The kit that a part's pads are, under a name. Drums say which kit they are of, whatever the part's is.
 * @example kitOf(part, "Quay").name // "Quay"
 */
export function kitOf({ kitId, pads }: Pick<KitPart, "kitId" | "pads">, name: string): OwnKit {
  return {
    name,
    pads: pads.map((pad) => ({
      ...soundOf(pad),
      layers: pad.layers.map((layer) => withKit(layer, kitId)),
      name: pad.name,
      note: pad.note,
      mix: pad.mix,
    })),
  };
}

/** Every pad gets the sound of its drum from one of the program's kits; hits stay where they are, and so do levels. */
export function setKit(beat: Beat, partId: number, kitId: KitId): Beat {
  return editKit(beat, partId, ({ kitName: _, ...part }) => ({
    ...part,
    kitId,
    pads: part.pads.map((pad) => withSound(pad, { layers: [{ source: drumFor(pad) }] })),
  }));
}

/** Every pad gets the sound, level and place of the pad with its note in a kit of the player's own; those without stay. */
export function setOwnKit(beat: Beat, partId: number, kit: OwnKit): Beat {
  const byNote = new Map(kit.pads.map((pad) => [pad.note, pad]));
  return editKit(beat, partId, (part) => ({
    ...part,
    kitId: mainKit(kit) ?? part.kitId,
    kitName: kit.name,
    pads: part.pads.map((pad) => {
      const given = byNote.get(pad.note);
      // Whatever kit the part has now.
      if (!given) return { ...pad, layers: pad.layers.map((layer) => withKit(layer, part.kitId)) };
      const name = hasSample(given) && { name: given.name };
      return { ...withSound(pad, soundOf(given)), ...name, mix: given.mix };
    }),
  }));
}

/** Every pad has the sound, level and place again that it had in a part as it was; whatever else was done since stays. */
export function giveKitBack(beat: Beat, partId: number, { kitId, kitName, pads }: KitPart): Beat {
  const before = new Map(pads.map((pad) => [pad.id, pad]));
  return editKit(beat, partId, ({ kitName: _, ...part }) => ({
    ...part,
    kitId,
    ...(kitName !== undefined && { kitName }),
    pads: part.pads.map((pad) => {
      const had = before.get(pad.id);
      return had ? { ...withSound(pad, soundOf(had)), mix: had.mix } : pad;
    }),
  }));
}

/** The kit that most of its drums are of. */
function mainKit({ pads }: OwnKit): KitId | undefined {
  const kits = pads.flatMap(({ layers }) =>
    layers.flatMap(({ source }) => (source.kind === "drum" && source.kit ? [source.kit] : [])),
  );
  const count = (kit: KitId) => kits.filter((one) => one === kit).length;
  return kits.toSorted((a, b) => count(b) - count(a))[0];
}

/** A pad gets other sounds, or they go otherwise; what is given as undefined goes. */
export function setPadSound(beat: Beat, partId: number, padId: Lane, change: PadSoundChange): Beat {
  return editKit(beat, partId, (part) => ({
    ...part,
    pads: part.pads.map((pad) => (pad.id === padId ? withSound(pad, { ...soundOf(pad), ...change }) : pad)),
  }));
}

/** A pad is called as its own sample is, for as long as it has that. */
export function namePad(beat: Beat, partId: number, padId: Lane, name: string): Beat {
  return editKit(beat, partId, (part) => ({
    ...part,
    pads: part.pads.map((pad) => (pad.id === padId ? { ...pad, name } : pad)),
  }));
}

const hasSample = ({ layers = [] }: PadSoundChange) => layers.some(({ source }) => source.kind === "sample");

export type PadSoundChange = { readonly [K in keyof PadSound]?: PadSound[K] | undefined };

/**
 * The drum that a pad is in every kit: by its note, else by what it strikes, else any.
 * @example drumFor(padsOf(part)[0]) // { kind: "drum", drum: "kick" }
 */
export function drumFor({ note, layers }: Pick<Pad, "note" | "layers">): DrumSource {
  const drum =
    DRUM_IDS.find((id) => DRUMS[id].note === note) ??
    layers.flatMap(({ source }) => (source.kind === "drum" ? [source.drum] : []))[0] ??
    "cowbell";
  return { kind: "drum", drum };
}

function withKit(layer: PadLayer, kit: KitId): PadLayer {
  return layer.source.kind === "drum" ? { ...layer, source: { kit, ...layer.source } } : layer;
}

function soundOf({ layers, tuneSemitones, decaySeconds, chokeGroup, held }: PadSound): PadSound {
  return withoutUndefined<PadSound>({ layers, tuneSemitones, decaySeconds, chokeGroup, held });
}

function withSound(pad: Pad, sound: PadSoundChange): Pad {
  const { layers, tuneSemitones: _t, decaySeconds: _d, chokeGroup: _c, held: _h, ...rest } = pad;
  const name = hasSample(pad) && !hasSample(sound) && { name: DRUMS[drumFor(pad).drum].name };
  return withoutUndefined<Pad>({ ...rest, layers, ...sound, ...name });
}

function editKit(beat: Beat, partId: number, change: (part: KitPart) => KitPart): Beat {
  return editPart(beat, partId, (part) => (part.kind === "kit" ? change(part) : part));
}
