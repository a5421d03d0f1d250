import { checkBeat, readBeatFile, writeBeatFile } from "../../formats/beat-file";
import { MAX_DERIVED_SECONDS } from "../../limits";
import { soundsAtHand, soundsStruck } from "../../playback/part-sounds";
import type { Ticks } from "../../time/ticks";
import { SAMPLE_RATE, type Beat, type KitPart, type PadLayer, type SampleSource } from "../beat";
import { derivedSeconds } from "./derived-sounds";
import { addHits, addPass } from "../edit";
import { tooFull } from "./fullness";
import { firstPlace, newBeat } from "../new-beat";
import { setPadSound } from "../edits/own-kit";

const BEAT = newBeat({ id: "b", name: "B" });
const PLACE = firstPlace(BEAT);

function cut(seconds: number, startFrame = 0, channels: 1 | 2 = 2): PadLayer {
  const endFrame = startFrame + seconds * SAMPLE_RATE;
  const source: SampleSource = {
    kind: "sample",
    sampleId: "0".repeat(32),
    name: "S",
    channels,
    startFrame,
    endFrame,
    fadeMs: 5,
    gainDb: 0,
  };
  return { source };
}

const withLayers = (beat: Beat, pad: number, layers: readonly PadLayer[], tuneSemitones?: number) =>
  setPadSound(beat, PLACE.partId, pad, { layers, tuneSemitones });

test("what is cut and what is tuned is counted once each, the longer the lower it is tuned", () => {
  expect(derivedSeconds(BEAT)).toBe(0);
  const once = withLayers(BEAT, 3, [cut(1), cut(1)]);
  expect(derivedSeconds(once)).toBe(2);
  expect(derivedSeconds(withLayers(once, 4, [cut(1)]))).toBe(2);
  expect(derivedSeconds(withLayers(once, 4, [cut(1)], -12))).toBe(2 + 4);
  expect(derivedSeconds(withLayers(BEAT, 0, [{ source: { kind: "drum", drum: "kick" } }], 12))).toBe(13 / 2);
});

test("five hundred cuts of one long sample are refused, read or edited; what is just within the limit is not", () => {
  const part = BEAT.parts[0] as KitPart;
  const cuts = (count: number) => {
    const pads = Array.from({ length: Math.ceil(count / 4) }, (_, pad) => ({
      ...part.pads[0]!,
      id: pad,
      slot: undefined,
      layers: Array.from({ length: 4 }, (_, layer) => cut(10, 4 * pad + layer)),
    })).map(({ slot: _, ...pad }) => pad);
    return { ...BEAT, parts: [{ ...part, pads }] } as Beat;
  };
  const most = MAX_DERIVED_SECONDS / 20;
  const within = cuts(most - (most % 4));
  expect(readBeatFile(writeBeatFile(within))).toEqual(within);
  expect(tooFull(BEAT, within)).toBeUndefined();
  const over = cuts(500);
  expect(() => readBeatFile(writeBeatFile(over))).toThrow("This beat has 10000 seconds of tuned and cut sounds; 1800");
  expect(tooFull(BEAT, over)).toContain("seconds of tuned and cut sounds");
  // One that is stored already opens, and may be changed as long as it does not grow.
  expect(checkBeat(over)).toEqual(over);
  expect(tooFull(over, { ...over, name: "Still mine" })).toBeUndefined();
});

test("a render makes of what is made for single pads only what is struck; what may be struck is all there is", () => {
  const { beat, passId } = addPass(withLayers(BEAT, 3, [cut(1)]), PLACE, {
    name: "P",
    muted: false,
    quantize: BEAT.inputQuantize,
  });
  const hit = { lane: 0, played: { ticks: 0 as Ticks, velocity: 90 }, lengthTicks: 60 as Ticks };
  expect(soundsStruck(addHits(beat, PLACE, passId, [hit]), [PLACE])).toHaveLength(15);
  expect(soundsStruck(addHits(beat, PLACE, passId, [hit, { ...hit, lane: 3 }]), [PLACE])).toHaveLength(17);
  // Fifteen drums, and both sides of a sample in the place of the sixteenth.
  expect(soundsAtHand(beat)).toHaveLength(17);
});
