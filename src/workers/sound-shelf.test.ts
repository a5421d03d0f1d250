import type { Sound, SoundBank } from "@/core/sound/signal/sound";
import { ownSoundId } from "@/core/sound/kits/sound-sets";
import { SoundShelf } from "./sound-shelf";

const sound: Sound = { layers: [[Float32Array.of(1)]], velocities: [127], gainLeft: 1, gainRight: 1, chokeGroup: 0 };
const bank = (sampleRate: number): SoundBank => ({ sampleRate, sounds: { "deckhouse/kick": sound } });
/** True where the shelf hands back the very sound that was put there. */
const has = (shelf: SoundShelf, rate: number) => shelf.get(["deckhouse/kick"], rate).sounds["deckhouse/kick"] === sound;

test("sounds of the newest two rates are kept, and no others", () => {
  const shelf = new SoundShelf();
  for (const rate of [44_100, 48_000, 88_200]) shelf.put(bank(rate));
  expect([88_200, 48_000].map((rate) => has(shelf, rate))).toEqual([true, true]);
  expect(has(shelf, 44_100)).toBe(false);
});

test("what one sends is not there for the next", () => {
  const shelf = new SoundShelf();
  // A sound that was made of a drum, as one of a sample is: made once more it is another object.
  const made = "deckhouse/kick@700";
  shelf.put({ sampleRate: 48_000, sounds: { ...bank(48_000).sounds, [made]: sound } });
  const known = () => shelf.get([made], 48_000).sounds[made] === sound;
  expect(known()).toBe(true);
  const cut = ownSoundId("0123", 0, { startFrame: 0, endFrame: 900, fadeMs: 5, reversed: false });
  shelf.setSamples({ "0123": { sampleRate: 48_000, channels: [new Float32Array(1000)] } });
  expect([known(), has(shelf, 48_000)]).toEqual([false, true]);
  expect(shelf.make(cut, 48_000).layers[0]![0]).toHaveLength(900);
  shelf.setSamples({});
  expect(() => shelf.make(cut, 48_000)).toThrow("The sample 0123 is not there.");
});
