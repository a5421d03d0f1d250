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

const moves = fc.array(fc.record({ ticks: fc.constantFrom(0, 1, 2.5), on: fc.boolean(), soft: fc.boolean() }), {
  maxLength: 30,
});

test("whatever is changed in items that follow each other, alike or not", () =>
  fc.assert(
    fc.property(moves, (changes) => {
      const before = changes.map((_, id) => ({ id, start: { ticks: 1, at: 7 }, soft: false }));
      const after = before.map(({ id, start }, at) => {
        const { ticks, on, soft } = changes[at]!;
        return { id, ...(on && { start: { ...start, ticks } }), soft };
      });
      for (const [from, to] of [
        [before, after],
        [after, before],
      ] as const)
        expect(withDelta(from, kept(deltaBetween(from, to)) ?? { items: [{ from: 0, count: from.length }] })).toEqual(
          to,
        );
    }),
  ));

test("thousands of items that are changed alike are one change, and in the same place a number each", () => {
  const hits = Array.from({ length: 5000 }, (_, id) => ({ id, lane: id % 3 }));
  const moved = hits.map((hit) => ({ ...hit, start: { ticks: 240 + hit.id } }));
  const size = (before: unknown, after: unknown) => JSON.stringify(deltaBetween(before, after)).length;
  expect(size(moved, hits)).toBeLessThan(100);
  expect(
    size(
      hits,
      hits.map((hit) => ({ ...hit, lane: 7 })),
    ),
  ).toBeLessThan(100);
  expect(
    size(
      moved,
      moved.map((hit) => ({ ...hit, start: { ticks: hit.id } })),
    ),
  ).toBeLessThan(6 * 5000);
  expect(withDelta(hits, kept(deltaBetween(hits, moved))!)).toEqual(moved);
});

test.each<[string, Delta]>([
  ["items without a number", { items: [{ from: 0 }] } as never],
  ["more items changed alike than there are", { items: [{ from: 1, count: 2, by: { fields: {} } }] }],
  ["columns of different lengths", { items: [{ from: 0, paths: [["a"], ["b"]], columns: [[1, 2], [1]] }] }],
  ["columns without names", { items: [{ from: 0, paths: [[]], columns: [[1]] }] }],
  ["more names than columns", { items: [{ from: 0, paths: [["a"], ["b"]], columns: [[1]] }] }],
  ["names that are none", { items: [{ from: 0, paths: [[7]], columns: [[1]] }] } as never],
  ["a column longer than the list", { items: [{ from: 1, paths: [["a"]], columns: [[1, 2]] }] }],
  ["no columns", { items: [{ from: 0, paths: 3, columns: null }] } as never],
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
