import { newBeat } from "@/core/beat/new-beat";
import { MemoryStore } from "../../../tests/support/memory-store";
import { repositoryOf } from "../../../tests/support/open-workspace";
import { Shelf } from "./shelf";

/** A shelf over the demo beats and a hundred newer ones, "New 0" the newest, of which each says how old it is. */
async function longShelf() {
  const store = new MemoryStore();
  const repository = repositoryOf({ store, now: () => 1000 });
  await repository.list();
  const rows = Array.from({ length: 100 }, (_, at) => ({
    id: `new-${at}`,
    changedAt: 5000 - at,
    beat: newBeat({ id: `new-${at}`, name: `New ${at}` }),
  }));
  await store.change(["beats"], ({ beats }) => beats.put(...rows));
  return { store, shelf: new Shelf(repository) };
}

test("of many beats the newest are read, older ones when they are asked for, also all at once", async () => {
  const { shelf } = await longShelf();
  await shelf.refresh();
  const namesOf = () => shelf.store.getState().records!.map(({ beat }) => beat.name);
  expect(namesOf()).toEqual(Array.from({ length: 32 }, (_, at) => `New ${at}`));
  expect(shelf.store.getState().readTo).toBe(32);
  await Promise.all([shelf.refresh(), shelf.showMore(), shelf.showMore(), shelf.refresh(), shelf.showMore()]);
  expect(namesOf().slice(96)).toEqual(["New 96", "New 97", "New 98", "New 99", ...namesOf().slice(100)]);
  expect(namesOf().slice(100)).toContain("Tide Table");
  expect(shelf.store.getState().readTo).toBeUndefined();
});

test("an old beat that can't be read is told when one gets to it, one without a time at once", async () => {
  const { store, shelf } = await longShelf();
  await store.change(["beats"], ({ beats }) => beats.put({ id: "old", changedAt: 1, beat: null as never }));
  const damaged = () => shelf.store.getState().damaged.map(({ id }) => id);
  await shelf.refresh();
  expect(damaged()).toEqual([]);
  for (let step = 0; step < 3; step++) await shelf.showMore();
  expect(damaged()).toEqual(["old"]);
  await store.change(["beats"], ({ beats }) => beats.put({ id: "timeless", beat: null } as never));
  const again = new Shelf(repositoryOf({ store }));
  await again.refresh();
  expect(again.store.getState().damaged.map(({ id }) => id)).toEqual(["old", "timeless"]);
});
