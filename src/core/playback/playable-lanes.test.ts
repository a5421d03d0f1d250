import { playableLanes } from "./playable-lanes";

const of = (...ids: readonly string[]) => ids.map((soundId) => ({ soundId, rate: 1 }));
const before = [of("deckhouse/kick"), of("deckhouse/snare")];

test("a lane keeps what it had until all that it is to strike is there", () => {
  const wanted = [of("signalLamp/kick"), of("signalLamp/snare", "own/x/0/0/1/0/0")];
  const there =
    (...ids: readonly string[]) =>
    (id: string) =>
      ids.includes(id);
  expect(playableLanes(wanted, before, there())).toEqual({ lanes: before, complete: false });
  const one = playableLanes(wanted, before, there("signalLamp/kick", "signalLamp/snare"));
  expect(one).toEqual({ lanes: [of("signalLamp/kick"), before[1]], complete: false });
  const all = there("signalLamp/kick", "signalLamp/snare", "own/x/0/0/1/0/0");
  expect(playableLanes(wanted, one.lanes, all)).toEqual({ lanes: wanted, complete: true });
  // With nothing before it there is nothing to keep.
  expect(playableLanes(wanted, undefined, there()).lanes).toEqual(wanted);
});

test("a tuned sound that is being made is played faster or slower from the plain one", () => {
  const [lane] = playableLanes([of("deckhouse/kick@1200")], before, (id) => id === "deckhouse/kick").lanes;
  expect(lane).toEqual([{ soundId: "deckhouse/kick", rate: 2 }]);
  expect(playableLanes([of("deckhouse/kick@1200")], before, () => true).complete).toBe(true);
});
