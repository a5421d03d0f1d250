import "fake-indexeddb/auto";
import fc from "fast-check";
import type { Beat, Hit } from "@/core/beat/beat";
import { addHits, addPass, editPass, setPass } from "@/core/beat/edit";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import type { Ticks } from "@/core/time/ticks";
import { MemoryStore } from "../../../../tests/support/memory-store";
import { newDatabaseName, repositoryOf } from "../../../../tests/support/open-workspace";
import { joinHits, partBeat } from "./apart-hits";
import { EchoPocketDatabase } from "./database";
import { DexieStore } from "./dexie-store";
import type { RowStore } from "./row-store";
import type { HitsRecord } from "./rows";

const EMPTY = newBeat({ id: "mine", name: "Mine" });
const PLACE = firstPlace(EMPTY);

const STORES: readonly [string, () => RowStore][] = [
  ["the browser's", () => new DexieStore(new EchoPocketDatabase(newDatabaseName()))],
  ["the one in memory", () => new MemoryStore()],
];

function withHits(beat: Beat, passId: number, count: number): Beat {
  const stroke = { lane: 1, played: { ticks: 10.5 as Ticks, velocity: 90 }, lengthTicks: 60 as Ticks };
  return addHits(
    beat,
    PLACE,
    passId,
    Array.from({ length: count }, () => stroke),
  );
}

/** A beat whose passes have so many hits. */
function beatOf(...counts: readonly number[]): Beat {
  return counts.reduce((beat, count, index) => {
    const pass = { name: `Pass ${index + 1}`, muted: false, quantize: beat.inputQuantize };
    const { beat: open, passId } = addPass(beat, PLACE, pass);
    return withHits(open, passId, count);
  }, EMPTY);
}

const passesOf = (beat: Beat) => beat.parts[0]!.patterns[0]!.passes;
const hitRows = async (store: RowStore) =>
  (await store.read(["hits"], ({ hits }) => hits.list())) as readonly HitsRecord[];

/** Something done to a beat. */
const edit = fc.oneof(
  fc.record({ kind: fc.constant("add" as const), pass: fc.nat({ max: 2 }), count: fc.integer({ min: 1, max: 700 }) }),
  fc.record({ kind: fc.constant("remove" as const), pass: fc.nat({ max: 2 }), from: fc.nat({ max: 600 }) }),
  fc.record({ kind: fc.constant("mute" as const), pass: fc.nat({ max: 2 }) }),
  fc.record({ kind: fc.constant("turn round" as const), pass: fc.nat({ max: 2 }) }),
);

function edited(beat: Beat, one: typeof edit extends fc.Arbitrary<infer T> ? T : never): Beat {
  const passes = passesOf(beat);
  const pass = passes[one.pass % passes.length]!;
  if (one.kind === "add") return withHits(beat, pass.id, one.count);
  if (one.kind === "mute") return setPass(beat, PLACE, pass.id, { muted: !pass.muted });
  // Ids that don't ascend: no edit makes them, and files may have them.
  const change = (hits: readonly Hit[]) => (one.kind === "remove" ? hits.toSpliced(one.from, 90) : hits.toReversed());
  return editPass(beat, PLACE, pass.id, (it) => ({ ...it, hits: change(it.hits) }));
}

test.each(STORES)(
  "whatever is edited, in whichever of two tabs, what is saved is what is read: %s store",
  async (_, newStore) => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(edit, fc.nat({ max: 1 })), { maxLength: 5 }),
        fc.array(fc.nat({ max: 900 }), { minLength: 1, maxLength: 2 }),
        async (edits, counts) => {
          const store = newStore();
          const tabs = [repositoryOf({ store }), repositoryOf({ store })];
          let beat = beatOf(...counts);
          await tabs[0]!.beats.add(beat);
          for (const [one, tab] of edits) {
            beat = edited(beat, one);
            expect(await tabs[tab]!.beats.save({ beat, passes: [] })).toBe("disk");
            expect(await tabs[1 - tab]!.load("mine")).toMatchObject({ status: "found", beat });
          }
          const { records, damaged } = await repositoryOf({ store }).beats.list();
          expect([records.find(({ id }) => id === "mine")!.beat, damaged]).toEqual([beat, []]);
        },
      ),
      { numRuns: 6 },
    );
  },
);

test("what is not changed is not written: a mute writes no hits, a stroke those around it", async () => {
  const store = new MemoryStore();
  const written: HitsRecord[][] = [];
  const counting: RowStore = Object.assign(Object.create(store) as RowStore, {
    change: (tables: never, work: (rows: never) => Promise<unknown>) =>
      store.change(tables, async (rows: { readonly hits?: { put(...rows: HitsRecord[]): Promise<void> } }) => {
        const { hits } = rows;
        const put = hits && { ...hits, put: (...given: HitsRecord[]) => (written.push(given), hits.put(...given)) };
        return work({ ...rows, ...(put && { hits: put }) } as never);
      }),
  });
  const { beats } = repositoryOf({ store: counting });
  const beat = beatOf(5000);
  await beats.save({ beat, passes: [] });
  const { id } = passesOf(beat)[0]!;
  const muted = setPass(beat, PLACE, id, { muted: true });
  await beats.save({ beat: muted, passes: [] });
  await beats.save({ beat: withHits(muted, id, 1), passes: [] });
  expect(written.map((rows) => rows.length)).toEqual([10, 0, 1]);
  expect(JSON.stringify(written[2]).length).toBeLessThan(60_000);
});

test("a beat that is removed takes its hits along, and brings them back; a new name keeps them", async () => {
  const store = new MemoryStore();
  const repository = repositoryOf({ store });
  const beat = beatOf(2000);
  await repository.beats.add(beat);
  const restore = await repository.beats.remove("mine");
  expect(await hitRows(store)).toEqual([]);
  await restore!();
  expect(await repository.load("mine")).toMatchObject({ beat });
  await repository.beats.change("mine", (one) => ({ ...one, name: "Yours" }));
  expect(await repositoryOf({ store }).load("mine")).toMatchObject({ beat: { ...beat, name: "Yours" } });
});

test.each([
  [
    "are gone",
    async (store: RowStore, { beatId, passId, number }: HitsRecord) =>
      store.change(["hits"], ({ hits }) => hits.delete([beatId, passId, number])),
  ],
  [
    "are no list",
    async (store: RowStore, row: HitsRecord) => store.change(["hits"], ({ hits }) => hits.put({ ...row, hits: "{" })),
  ],
  [
    "are no hits",
    async (store: RowStore, row: HitsRecord) =>
      store.change(["hits"], ({ hits }) =>
        hits.put({ ...row, hits: JSON.stringify(JSON.parse(row.hits).map(() => 7)) }),
      ),
  ],
] as const)(
  "a beat whose hits %s is listed as unreadable, with all that is there of it, and never as an empty one",
  async (_, spoil) => {
    const store = new MemoryStore();
    await repositoryOf({ store }).beats.add(beatOf(2000));
    await spoil(store, (await hitRows(store))[1]!);
    const repository = repositoryOf({ store });
    const { records, damaged } = await repository.beats.list();
    expect(records).toEqual([]);
    expect(damaged).toMatchObject([{ id: "mine", record: { id: "mine", hits: expect.any(Array) } }]);
    expect(await repository.load("mine")).toMatchObject({ status: "damaged" });
    const before = await hitRows(store);
    expect(await repository.beats.change("mine", (beat) => ({ ...beat, bpm: 90 }))).toBeUndefined();
    expect(await hitRows(store)).toEqual(before);
  },
);

test("a beat of before is read as it is, and has its hits apart when it is written again", async () => {
  const store = new MemoryStore();
  const beat = beatOf(1000);
  await store.change(["beats"], ({ beats }) => beats.put({ id: "mine", changedAt: 1, beat }));
  const repository = repositoryOf({ store });
  expect(await repository.load("mine")).toMatchObject({ beat });
  await repository.beats.save({ beat, passes: [] });
  expect((await hitRows(store)).length).toBeGreaterThan(1);
  expect(await repository.load("mine")).toMatchObject({ beat });
});

test("small passes stay where they are", () => {
  const beat = beatOf(60, 128);
  expect(partBeat(beat)).toMatchObject({ spine: beat, stretches: [] });
  const row = { id: "mine", changedAt: 1, beat };
  expect(joinHits(row, [])).toBe(row);
});
