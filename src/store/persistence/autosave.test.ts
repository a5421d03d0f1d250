import type { Beat } from "@/core/beat/beat";
import type { KeptPass } from "@/core/beat/edits/kept-pass";
import { putBack, unsettled } from "@/core/beat/edits/kept-pass";
import { seededRandom } from "@/core/random";
import { RECORD_MODES } from "@/core/record/record-stroke";
import { seeds } from "../../../tests/support/seeds";
import { session, takeTestTime } from "../../../tests/support/session";
import type { KeptBeat } from "./rows/kept-beat";

takeTestTime();

/** Nothing older than this is lost, whenever the page dies. */
const KEPT_AFTER_MS = 2000;
const PLAYED_MS = 20_000;

const hitsOf = (beat: Beat) =>
  beat.parts.flatMap(({ patterns }) => patterns.flatMap(({ passes }) => passes)).flatMap(({ hits }) => hits);

test.each(seeds(6))(
  "a drummer who never pauses: at any moment the disk has all but the last two seconds (seed %i)",
  (seed) => {
    const random = seededRandom(seed);
    const { workspace, repository, play } = session();
    let disk: KeptBeat = { beat: workspace.beat, passes: [] };
    jest.spyOn(repository.beats, "save").mockImplementation(async (kept) => {
      disk = kept;
      return "disk";
    });
    jest.spyOn(repository.beats, "writeJournal").mockImplementation(async (_, passes: readonly KeptPass[]) => {
      disk = { ...disk, passes };
    });
    workspace.transport.setMode(RECORD_MODES[seed % 3]!);
    workspace.transport.toggleRecord();
    const states: { readonly atMs: number; readonly beat: Beat }[] = [];
    for (let ms = 100; ms < PLAYED_MS; ms += 60 + 80 * random()) {
      play(Math.floor(4 * random()), ms);
      const other = random();
      if (other < 0.03) workspace.patterns.nextEmpty();
      else if (other < 0.06) workspace.transport.togglePractice();
      else if (other < 0.09) workspace.timing.setQuantize({ strength: random() });
      states.push({ atMs: ms, beat: workspace.beat });

      // What the page that died then would find.
      const { beat, passes } = unsettled(disk.beat, disk.passes);
      const found = hitsOf(putBack(beat, passes)).map(({ lane, played: { ticks } }) => `${lane} ${ticks}`);
      const old = states.findLast(({ atMs }) => atMs < ms - KEPT_AFTER_MS);
      // In replace a later stroke may have taken it away.
      const still = new Set(hitsOf(workspace.beat).map(({ id }) => id));
      const wanted = old ? hitsOf(old.beat).filter(({ id }) => still.has(id)) : [];
      const missing = wanted.filter(({ lane, played: { ticks } }) => !found.includes(`${lane} ${ticks}`));
      expect(missing).toEqual([]);
      // Nothing is there twice: what is in the beat is not offered as well.
      expect(new Set(found).size).toBe(found.length);
    }
    expect(hitsOf(workspace.beat).length).toBeGreaterThan(seed % 3 === 1 ? 8 : 30);
  },
);

test("while only the open pass grows the rest is written seldom; what else is changed meanwhile is on disk as soon as ever", () => {
  const { workspace, repository, play } = session();
  const written: { readonly atMs: number; readonly beat: Beat }[] = [];
  jest.spyOn(repository.beats, "save").mockImplementation(async ({ beat }) => {
    written.push({ atMs: performance.now(), beat });
    return "disk";
  });
  jest.spyOn(repository.beats, "writeJournal").mockImplementation(async () => {});
  workspace.transport.toggleRecord();
  for (let ms = 100; ms < 12_000; ms += 97) play(0, ms);
  expect(written.length).toBeLessThanOrEqual(3);
  const changedMs = performance.now();
  workspace.timing.setFeel(() => ({ swing: { ratio: 0.6, unit: "1/16" } }), "Swing");
  for (let ms = 12_000; ms < 14_500; ms += 97) play(0, ms);
  const swung = written.find(({ beat }) => beat.parts[0]!.patterns[0]!.swing);
  expect(swung!.atMs - changedMs).toBeLessThanOrEqual(2000);
});

test("while a pass is open the journal is at most half a second behind", () => {
  const { workspace, repository, play, goTo } = session();
  let journal: readonly KeptPass[] = [];
  const written: number[] = [];
  jest.spyOn(repository.beats, "save").mockImplementation(async ({ passes }) => {
    journal = passes;
    return "disk";
  });
  jest.spyOn(repository.beats, "writeJournal").mockImplementation(async (_, passes: readonly KeptPass[]) => {
    journal = passes;
    written.push(performance.now());
  });
  workspace.transport.toggleRecord();
  for (let ms = 100; ms < 6000; ms += 97) play(0, ms);
  const kept = () => journal.reduce((sum, { pass }) => sum + pass.hits.length, 0);
  expect(hitsOf(workspace.beat).length - kept()).toBeLessThanOrEqual(Math.ceil(520 / 97));
  goTo(6520);
  expect(kept()).toBe(hitsOf(workspace.beat).length);
  const gaps = written.slice(1).map((ms, index) => ms - written[index]!);
  // Not for every stroke: that would take time from playing.
  expect(Math.min(...gaps)).toBeGreaterThanOrEqual(300);
});

test("a save in the middle of a pass settles what is beside it, and not the pass: the journal goes on with all of it", async () => {
  const { workspace, repository, play } = session();
  let disk: KeptBeat = { beat: workspace.beat, passes: [] };
  let saves = 0;
  jest.spyOn(repository.beats, "save").mockImplementation(async (kept) => {
    disk = kept;
    saves++;
    return "disk";
  });
  jest.spyOn(repository.beats, "writeJournal").mockImplementation(async (_, passes: readonly KeptPass[]) => {
    disk = { ...disk, passes };
  });
  workspace.transport.toggleRecord();
  for (let ms = 100; ms < 11_000; ms += 97) {
    play(0, ms);
    // What a save brings about is done when it has ended.
    await Promise.resolve();
    await Promise.resolve();
  }
  // Before the first hit, and after six seconds.
  expect(saves).toBeLessThanOrEqual(2);
  const { beat, passes } = unsettled(disk.beat, disk.passes);
  const kept = hitsOf(putBack(beat, passes)).length;
  expect(hitsOf(workspace.beat).length - kept).toBeLessThanOrEqual(Math.ceil(520 / 97));
});
