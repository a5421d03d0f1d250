import type { Beat } from "@/core/beat/beat";
import { kitOf, setPadSound } from "@/core/beat/edits/own-kit";
import { newBeat } from "@/core/beat/new-beat";
import { demoSamples } from "@/core/demo/demo-sounds";
import { MemoryStore } from "../../../tests/support/memory-store";
import { repositoryOf } from "../../../tests/support/open-workspace";

const [[SAMPLE, WAV]] = Object.entries(demoSamples()) as [[string, Uint8Array<ArrayBuffer>]];
const HOUR_MS = 3_600_000;

function struck(): Beat {
  const beat = newBeat({ id: "mine", name: "Mine" });
  const source = {
    kind: "sample",
    sampleId: SAMPLE,
    name: "S",
    channels: 2,
    startFrame: 0,
    endFrame: 100,
    fadeMs: 5,
  } as const;
  return setPadSound(beat, beat.parts[0]!.id, 0, { layers: [{ source: { ...source, gainDb: 0 } }] });
}

/** A page with a beat, a kit or a state that alone strikes a sample, and another page an hour later. */
async function twoPages() {
  const store = new MemoryStore();
  const one = repositoryOf({ store, now: () => 1000 });
  const other = repositoryOf({ store, now: () => HOUR_MS });
  await one.samples.put({ [SAMPLE]: WAV });
  const isThere = async () => Object.keys(await one.samples.files([SAMPLE])).length === 1;
  return { one, other, isThere };
}

test("a deletion is undone with its samples, whatever another page has cleared meanwhile: of a beat, a kit, a kept state", async () => {
  const beat = struck();
  const kit = kitOf(beat.parts[0] as never, "Own");
  const ways = [
    async ({ one }: Awaited<ReturnType<typeof twoPages>>) => {
      await one.beats.add(beat);
      return (await one.beats.remove(beat.id))!;
    },
    async ({ one }: Awaited<ReturnType<typeof twoPages>>) => {
      await one.writeKit(kit);
      const putSamplesBack = await one.removeKit("Own");
      return async () => {
        await putSamplesBack();
        await one.writeKit(kit);
      };
    },
    async ({ one }: Awaited<ReturnType<typeof twoPages>>) => {
      await one.states.keep("Kept", beat);
      const [state] = await one.states.list(beat.id);
      return (await one.states.remove(state!.id))!;
    },
  ];
  for (const remove of ways) {
    const pages = await twoPages();
    const restore = await remove(pages);
    expect(await pages.other.samples.clearUnused()).toBe(1);
    expect(await pages.isThere()).toBe(false);
    await restore();
    expect(await pages.isThere()).toBe(true);
    expect(await pages.other.samples.clearUnused()).toBe(0);
  }
});
