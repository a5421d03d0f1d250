import type { Beat, Hit, Pad, Part, Pass, Pattern, QuantizeSettings, HitOverride, TimingPoint } from "../beat/beat";
import { numberHit } from "../beat/edit";
import type { KeptPass } from "../beat/edits/kept-pass";
import { drumPad, PLAIN_MIX } from "../beat/new-beat";
import type { DrumId } from "../drums";
import type { Ticks } from "../time/ticks";

/** A beat as the first version had it, and what of it was otherwise. */
export interface Beat1 extends Omit<Beat, "parts"> {
  readonly parts: readonly Part1[];
}

interface Part1 extends Pick<Part, "id" | "name"> {
  readonly kit: "deckhouse";
  readonly pads: readonly Pad1[];
  readonly patterns: readonly Pattern1[];
}

interface Pad1 extends Pick<Pad, "id" | "name" | "note" | "muted" | "soloed"> {
  readonly drum: DrumId;
}

interface Pattern1 extends Omit<Pattern, "passes" | "points"> {
  readonly passes: readonly Pass1[];
  readonly points?: readonly (Omit<TimingPoint, "starts"> & { readonly starts: Readonly<Record<number, Start1>> })[];
}

interface Pass1 extends Omit<Pass, "hits"> {
  readonly hits: readonly Hit1[];
}

type Start1 = Omit<HitOverride, "by" | "lengthTicks">;

interface Hit1 {
  readonly id: number;
  readonly pad: number;
  readonly playedTicks: Ticks;
  readonly straightTicks?: Ticks;
  readonly kept?: Start1;
  readonly velocity: number;
  readonly lengthTicks: Ticks;
  readonly masked?: true;
  readonly choked?: true;
  readonly quantize?: QuantizeSettings;
  readonly downbeatTicks?: Ticks;
  readonly lap?: number;
}

/** What was recorded and not settled, as the first version kept it beside its beat. */
export interface KeptPass1 extends Omit<KeptPass, "pass"> {
  readonly pass: Pass1;
}

/** Keys lay on the first pads of a part, one after the other. */
const SLOTS = 16;

/** The same beat as it is now: it sounds, and is written as MIDI, to the bit as before. */
export function upgradeBeat(beat: Beat1): Beat {
  return { ...beat, parts: beat.parts.map(upgradePart) };
}

/** The same for a pass that was kept beside it. */
export function upgradeKeptPass(kept: KeptPass1): KeptPass {
  return { ...kept, pass: upgradePass(kept.pass) };
}

function upgradePart({ id, name, kit, pads, patterns }: Part1): Part {
  const plain = { mix: PLAIN_MIX, muted: false, soloed: false };
  return {
    id,
    name,
    kind: "kit",
    kitId: kit,
    ...plain,
    pads: pads.map(upgradePad),
    patterns: patterns.map(upgradePattern),
  };
}

function upgradePad({ id, drum, name, note, muted, soloed }: Pad1, index: number): Pad {
  return { ...drumPad(drum, id, { name, note }), ...(index < SLOTS && { slot: index }), muted, soloed };
}

function upgradePattern({ passes, points, ...pattern }: Pattern1): Pattern {
  const upgraded = points?.map((point) => ({
    ...point,
    starts: Object.fromEntries(Object.entries(point.starts).map(([id, start]) => [id, upgradeStart(start)])),
  }));
  return { ...pattern, passes: passes.map(upgradePass), ...(upgraded && { points: upgraded }) };
}

function upgradePass({ hits, ...pass }: Pass1): Pass {
  return { ...pass, hits: hits.map(upgradeHit) };
}

function upgradeHit({ id, pad, playedTicks, straightTicks, velocity, kept, ...rest }: Hit1): Hit {
  const played = { ticks: playedTicks, ...(straightTicks !== undefined && { straightTicks }), velocity };
  return numberHit({ ...rest, lane: pad, played, ...(kept && { start: upgradeStart(kept) }) }, id);
}

function upgradeStart(start: Start1): HitOverride {
  return { ...start, by: "keep" };
}
