import { drumPad, newBeat } from "../beat/new-beat";
import { addTonalPart } from "../beat/edits/part-edit";
import type { Beat, Part } from "../beat/beat";
import { numberHit } from "../beat/edit";
import type { Clip } from "../editing/clip";
import { checkBeat } from "./beat-file";

/** Copied hits from anywhere, checked as closely as a beat file. @throws CoreError "bad-beat-file", SyntaxError where it is no JSON */
export function readClip(text: string): Clip | undefined {
  const clip = JSON.parse(text) as Clip;
  return isClip(clip) ? clip : undefined;
}

function isClip({ kind, hits }: Clip): boolean {
  const placed = hits.every(({ start }) => start?.by === "hand" && start.ticks !== undefined);
  return (kind === "kit" || kind === "tonal") && placed && checkBeat(beatWith(kind, hits)) !== undefined;
}

/** A beat that has nothing but these hits, so that whatever reads beats can check them. */
function beatWith(kind: Part["kind"], hits: Clip["hits"]): Beat {
  const empty = newBeat({ id: "copied", name: "Copied" });
  const { beat } = kind === "tonal" ? addTonalPart(empty, "keel") : { beat: empty };
  const part = beat.parts.at(-1)!;
  const pattern = part.patterns[0]!;
  const pass = { id: beat.nextId, name: "Copied", muted: false, quantize: beat.inputQuantize };
  const numbered = hits.map((hit, index) => numberHit(hit, beat.nextId + 1 + index));
  const filled = { ...part, ...padsFor(part, hits), patterns: [{ ...pattern, passes: [{ ...pass, hits: numbered }] }] };
  return { ...beat, parts: beat.parts.with(-1, filled as Part), nextId: beat.nextId + 1 + hits.length };
}

/** A kit of its own may have other pads than a new one. */
function padsFor(part: Part, hits: Clip["hits"]) {
  if (part.kind !== "kit") return {};
  const lanes = new Set(hits.map(({ lane }) => lane));
  return { pads: [...lanes].map((lane) => drumPad("kick", lane)).map(({ slot: _, ...pad }) => pad) };
}
