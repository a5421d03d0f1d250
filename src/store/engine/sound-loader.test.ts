import { addTonalPart } from "@/core/beat/edits/part-edit";
import { newBeat } from "@/core/beat/new-beat";
import { soundsAtHand } from "@/core/playback/part-sounds";
import { findSounds, type Sound, type SoundId } from "@/core/sound/signal/sound";
import { SOUND_REVISION, soundsOf } from "@/core/sound/kits/sound-sets";
import { StruckSounds } from "@/core/sound/player/struck-sounds";
import { newRepository, openWorkspace } from "../../../tests/support/open-workspace";
import { makingText } from "./sound-loader";

const sound = (): Sound => ({ layers: [[]], velocities: [127], gainLeft: 1, gainRight: 1, chokeGroup: 0 });

test("what is struck and what lies on the keys is made first, the rest at leisure, all kept, and fetched the next time", async () => {
  jest.useFakeTimers({ doNotFake: ["queueMicrotask", "nextTick", "setImmediate", "performance"] });
  const { beat } = addTonalPart(newBeat({ id: "b", name: "B" }), "keel");
  const asked: { readonly ids: readonly SoundId[]; readonly workers: number | undefined }[] = [];
  const said: string[] = [];
  const repository = newRepository();
  const open = () => {
    const { workspace, engine } = openWorkspace(repository, {
      beat,
      render: async (ids, _, made, workers) => {
        asked.push({ ids, workers });
        for (const id of ids) {
          const { soundProgress } = workspace.state;
          if (soundProgress) {
            said.push(makingText(soundProgress));
            expect(workspace.state.soundsAwaited).toEqual(["deckhouse", "keel"]);
          }
          made(id, sound());
        }
      },
    });
    return { workspace, engine };
  };
  const { workspace, engine } = open();
  await workspace.sounds.attach(48_000);
  const wanted = soundsAtHand(beat);
  expect(asked[0]!.ids.toSorted()).toEqual(wanted.toSorted());
  expect(asked[0]!.ids[0]).toBe("deckhouse/kick");
  expect(said[0]).toBe(`Making Deckhouse and Keel… 0 of ${wanted.length} sounds are ready`);
  expect(workspace.state.soundProgress).toBeUndefined();
  await new Promise(setImmediate);
  expect(workspace.state.soundsAwaited).toEqual([]);
  const all = [...soundsOf("deckhouse"), ...soundsOf("keel")];
  expect(asked.flatMap(({ ids }) => ids).toSorted()).toEqual(all.toSorted());
  expect(asked.at(-1)!.workers).toBe(1);
  const told = engine.orders.flatMap((order) => (order.type === "sounds" ? Object.keys(order.sounds) : []));
  expect(told.toSorted()).toEqual(all.toSorted());
  // What an earlier version rendered goes.
  await repository.writeSound("1 48000 deckhouse/kick", sound());
  jest.advanceTimersByTime(6000);
  jest.useRealTimers();
  const isKept = async (id: SoundId) => (await repository.readSound(`${SOUND_REVISION} 48000 ${id}`)) !== undefined;
  while (!(await Promise.all(all.map(isKept))).every(Boolean)) await new Promise(setImmediate);
  expect(await repository.readSound("1 48000 deckhouse/kick")).toBeUndefined();
  asked.length = 0;
  const next = open();
  await next.workspace.sounds.attach(48_000);
  expect(asked).toEqual([]);
  expect(Object.keys(next.workspace.sounds.bank!.sounds).toSorted()).toEqual(all.toSorted());
});

test("what fails is said and tried again with the next change; sounds for an output that was left are dropped", async () => {
  const { beat } = addTonalPart(newBeat({ id: "b", name: "B" }), "keel");
  let fails = true;
  let late: (() => void) | undefined;
  const { workspace, engine } = openWorkspace(newRepository(), {
    beat,
    render: async (ids, _, made) => {
      if (fails) throw new Error("no workers");
      ids.forEach((id) => made(id, sound()));
      late ??= () => made(ids[0]!, sound());
    },
  });
  const told = () => engine.orders.filter((order) => order.type === "sounds" && Object.keys(order.sounds).length > 0);
  await expect(workspace.sounds.attach(48_000)).rejects.toThrow("no workers");
  expect(workspace.state.soundProgress).toBeUndefined();
  expect(workspace.state.soundsAwaited).toEqual([]);
  expect(workspace.state.notice).toContain("sounds of Deckhouse and Keel could not be made");
  fails = false;
  workspace.sounds.follow();
  await workspace.sounds.attach(48_000);
  expect(Object.keys(workspace.sounds.bank!.sounds)).toEqual(expect.arrayContaining([...soundsAtHand(beat)]));
  await workspace.sounds.attach(44_100);
  const before = told().length;
  late!();
  expect(told()).toHaveLength(before);
});

test("a lane is looked up once, and again when there are other sounds or other lanes", () => {
  const struck = new StruckSounds(48_000);
  const lanes = [60, 61].map((note) => [{ soundId: `keel/${note}`, rate: 1 }]);
  expect(struck.of(1, 0)).toEqual([]);
  struck.setLanes(1, { lanes, pitched: true });
  struck.add({ "keel/61": sound() });
  const near = struck.of(1, 0);
  expect(near[0]!.rate).toBeLessThan(1);
  expect(struck.of(1, 0)).toBe(near);
  struck.add({ "keel/60": sound() });
  expect(struck.of(1, 0)[0]!.rate).toBe(1);
  struck.setLanes(1, undefined);
  expect(struck.of(1, 0)).toEqual([]);
});

test("a note whose sound is not there yet is played on the nearest that is; a drum is not", () => {
  const lanes = [60, 61, 62].map((note) => [{ soundId: `keel/${note}`, rate: 1 }]);
  const there = new Map([["keel/62", sound()]]);
  expect(findSounds({ lanes, pitched: true }, 0, there, 48_000)[0]!.rate).toBeCloseTo(2 ** (-2 / 12), 9);
  expect(findSounds({ lanes, pitched: true }, 2, there, 48_000)[0]!.rate).toBe(1);
  expect(findSounds({ lanes }, 0, there, 48_000)).toEqual([]);
  expect(findSounds({ lanes, pitched: true }, 0, new Map(), 48_000)).toEqual([]);
});
