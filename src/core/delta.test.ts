import fc from "fast-check";
import { deltaBetween, withDelta, type Delta } from "./delta";

interface Item {
  readonly id: number;
  readonly name: string;
  readonly tags?: readonly string[];
  readonly items?: readonly Item[];
}
const { item } = fc.letrec<{ item: Item }>((tie) => ({
  item: fc.record(
    {
      id: fc.nat(9),
      name: fc.string({ maxLength: 2 }),
      tags: fc.array(fc.string({ maxLength: 1 }), { maxLength: 2 }),
      items: fc.uniqueArray(tie("item"), { selector: ({ id }) => id, maxLength: 4, depthIdentifier: "items" }),
    },
    { requiredKeys: ["id", "name"] },
  ),
}));
const documents = fc.record({
  name: fc.string(),
  parts: fc.uniqueArray(item, { selector: ({ id }) => id, maxLength: 8 }),
  starts: fc.dictionary(fc.string({ maxLength: 3 }), fc.nat(3)),
});
const kept = (delta: Delta | undefined): Delta | undefined => delta && JSON.parse(JSON.stringify(delta));

test("between any two documents a delta leads from one to the other, also after it was kept as text", () =>
  fc.assert(
    fc.property(documents, documents, (before, after) => {
      const delta = kept(deltaBetween(before, after));
      expect(withDelta(before, delta!)).toEqual(after);
      const mixed = {
        ...after,
        parts: [...before.parts.slice(1), { id: 99, name: "new" }, ...before.parts.slice(0, 1)],
      };
      expect(withDelta(before, kept(deltaBetween(before, mixed))!)).toEqual(mixed);
    }),
    { numRuns: 300 },
  ));

test("what stays is the very same, and a small change of a long list is a small delta", () => {
  const hits = Array.from({ length: 10_000 }, (_, id) => ({ id, lane: 0 }));
  const before = { passes: [{ id: 1, hits }], meter: { beats: 4 } };
  const grown = {
    ...before,
    passes: [{ id: 1, hits: [...hits.with(500, { id: 500, lane: 3 }), { id: 10_000, lane: 1 }] }],
  };
  const delta = deltaBetween(before, grown)!;
  expect(JSON.stringify(delta).length).toBeLessThan(300);
  const made = withDelta(before, kept(delta)!) as typeof before;
  expect(made).toEqual(grown);
  expect(made.meter).toBe(before.meter);
  expect(made.passes[0]!.hits[0]).toBe(hits[0]);
  expect(deltaBetween(before, before)).toBeUndefined();
});

test.each<[string, Delta]>([
  ["items that are not there", { items: [{ from: 1, count: 2 }] }],
  ["an item before the first", { items: [{ from: -1, count: 1 }] }],
  ["no whole number of items", { items: [{ from: 0, count: Number.NaN }] }],
  ["fields of a list", { fields: { a: { set: 1 } } }],
  ["a list within an item that is none", { items: [{ from: 0, by: { items: [] } }] }],
  ["nothing", null as never],
  ["no list of items", { items: 3 } as never],
  ["items that are none", { items: [3] } as never],
  ["no fields", { fields: 3 } as never],
])("a delta of something else is refused: %s", (_, delta) => {
  expect(() => withDelta([{ id: 1 }, { id: 2 }], delta)).toThrow("does not fit");
});

test("a name that is special to objects is a name like any other", () => {
  const before = JSON.parse('{"a":1}');
  const after = JSON.parse('{"a":1,"__proto__":{"b":2}}');
  expect(JSON.stringify(withDelta(before, kept(deltaBetween(before, after))!))).toBe(JSON.stringify(after));
});
