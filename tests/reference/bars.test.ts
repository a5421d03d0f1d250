import type { Beat } from "@/core/beat/beat";
import { addHits, addPass, setPass } from "@/core/beat/edit";
import { commit, startHistory } from "@/core/beat/history";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { moveStraight } from "@/core/editing/move-hits";
import { compileEvents } from "@/core/playback/compile-events";
import { asTicks } from "@/core/time/ticks";
import type { RowStore } from "@/store/persistence/rows/row-store";
import { StepLog } from "@/store/persistence/rows/step-log";
import { barProblem } from "../support/bars";
import { MemoryStore } from "../support/memory-store";
import { repositoryOf } from "../support/open-workspace";

const HITS = 10_000;
const EMPTY = newBeat({ id: "mine", name: "Mine", bars: 64 });
const PLACE = firstPlace(EMPTY);

/** A beat of 64 bars with very many hits in one pass. */
function fullBeat(): { readonly beat: Beat; readonly passId: number } {
  const { beat, passId } = addPass(EMPTY, PLACE, { name: "Pass 1", muted: false, quantize: EMPTY.inputQuantize });
  const hits = Array.from({ length: HITS }, (_, index) => ({
    lane: index % 8,
    played: { ticks: asTicks(24.5 * index), velocity: 40 + (index % 80) },
    lengthTicks: asTicks(60),
  }));
  return { beat: addHits(beat, PLACE, passId, hits), passId };
}

const { beat, passId } = fullBeat();
const ids = new Set(beat.parts[0]!.patterns[0]!.passes[0]!.hits.map(({ id }) => id));
const muted = setPass(beat, PLACE, passId, { muted: true });
const struck = addHits(beat, PLACE, passId, [
  { lane: 1, played: { ticks: asTicks(10), velocity: 90 }, lengthTicks: asTicks(60) },
]);
const moved = moveStraight(beat, PLACE, ids, 240);

/** A store that counts what is put into it, as the text that it would be. */
function countingStore() {
  const store = new MemoryStore();
  const counted = { bytes: 0 };
  const counting: RowStore = Object.assign(Object.create(store) as RowStore, {
    change: (tables: never, work: (rows: never) => Promise<unknown>) =>
      store.change(tables, async (rows: Record<string, { put(...rows: unknown[]): Promise<void> }>) => {
        const all = Object.entries(rows).map(([name, table]) => {
          const put = (...given: unknown[]) => {
            counted.bytes += JSON.stringify(given).length;
            return table.put(...given);
          };
          return [name, { ...table, put }] as const;
        });
        return work(Object.fromEntries(all) as never);
      }),
  });
  return { counting, counted };
}

test.each([
  ["a mute", muted],
  ["a stroke", struck],
  ["all of them moved", moved],
])("beside 10,000 hits %s writes no more than it did", async (name, edited) => {
  const { counting, counted } = countingStore();
  const { beats } = repositoryOf({ store: counting });
  await beats.save({ beat, passes: [] });
  const before = counted.bytes;
  await beats.save({ beat: edited, passes: [] });
  expect(barProblem(`${name}, beside 10,000 hits: bytes written`, counted.bytes - before)).toBeUndefined();
});

test("a step that moves 10,000 hits is kept in no more than it was", () => {
  const log = new StepLog(startHistory(beat));
  const history = commit(startHistory(beat), moved, { label: "Move", atMs: 1 });
  const { steps } = log.changes(history, (one) => one);
  expect(barProblem("10,000 hits moved: bytes of the step", JSON.stringify(steps).length)).toBeUndefined();
});

test("what the audio thread is handed of 10,000 hits is no more than it was", () => {
  const bytes = Object.values(compileEvents(beat, PLACE))
    .filter((value) => ArrayBuffer.isView(value))
    .reduce((sum, { byteLength }) => sum + byteLength, 0);
  expect(barProblem("table of 10,000 hits: bytes", bytes)).toBeUndefined();
});
