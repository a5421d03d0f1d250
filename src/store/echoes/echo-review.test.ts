import { findReadings } from "@/core/recover/readings/readings";
import type { Reading } from "@/core/recover/readings/reading";
import { newBeat } from "@/core/beat/new-beat";
import { newRepository, openWorkspace, strike } from "../../../tests/support/open-workspace";
import type { FindReadings } from "./reading-session";
import type { Workspace } from "../workspace/workspace";

const EIGHTH_MS = 30_000 / 110;

// Moments of playing are counted from when the process began, which on a busy machine is longer ago than a sitting may pause.
beforeEach(() => jest.spyOn(Date, "now").mockReturnValue(performance.timeOrigin + 30_000));
afterEach(() => jest.restoreAllMocks());

/** Two bars of kick, snare and eighths on the hat, at 110 BPM, played with the transport stopped; then looked at. */
async function freePhrase(answer: FindReadings = async (...asked) => findReadings(...asked)) {
  const { workspace } = openWorkspace(newRepository(), { findReadings: answer });
  for (let eighth = 0; eighth < 16; eighth++) {
    if (eighth % 4 === 0) strike(workspace, 0, eighth * EIGHTH_MS);
    if (eighth % 4 === 2) strike(workspace, 1, eighth * EIGHTH_MS);
    strike(workspace, 8, eighth * EIGHTH_MS);
  }
  workspace.review.open(workspace.echoes.refresh()[0]);
  await answered();
  return workspace;
}

const answered = () => new Promise((done) => setTimeout(done));

function chosen(workspace: Workspace): Reading {
  const { readings, chosen } = workspace.state.openEcho!;
  return readings![chosen]!;
}

const downbeatMs = (workspace: Workspace) => chosen(workspace).downbeat * 1000 - workspace.state.openEcho!.whole.id;

test("a phrase has its tempo, downbeat and length, and what is known better is kept to", async () => {
  const workspace = await freePhrase();
  expect(chosen(workspace)).toMatchObject({ bars: 2, meter: { beats: 4, unit: 4 } });
  expect(chosen(workspace).bpm).toBeCloseTo(110, 1);
  expect(downbeatMs(workspace)).toBeCloseTo(0, 0);
  workspace.readings.hint({ downbeat: chosen(workspace).downbeat + (4 * EIGHTH_MS) / 1000 });
  await answered();
  expect(downbeatMs(workspace)).toBeCloseTo(4 * EIGHTH_MS, 0);
  workspace.readings.forgetHints();
  await answered();
  expect(downbeatMs(workspace)).toBeCloseTo(0, 0);
});

test("steps that come before the last one is answered add up", async () => {
  const workspace = await freePhrase();
  workspace.readings.stepDownbeat(1);
  workspace.readings.stepDownbeat(1);
  await answered();
  expect(downbeatMs(workspace)).toBeCloseTo(EIGHTH_MS, 0);
  workspace.readings.stepDownbeat(-2);
  await answered();
  workspace.readings.stepBars(1);
  workspace.readings.stepBars(1);
  await answered();
  expect(chosen(workspace)).toMatchObject({ bars: 4, bpm: expect.closeTo(110, 1) });
  expect(downbeatMs(workspace)).toBeCloseTo(0, 0);
  workspace.readings.stepBars(-9);
  await answered();
  expect(chosen(workspace)).toMatchObject({ bars: 1, bpm: expect.closeTo(110, 1) });
  workspace.readings.forgetHints();
  await answered();
  workspace.readings.scaleTempo(2);
  workspace.readings.scaleTempo(0.5);
  workspace.readings.scaleTempo(0.5);
  await answered();
  expect(chosen(workspace).bpm).toBeCloseTo(55, 1);
  expect(chosen(workspace).bars).toBe(1);
});

test("hits at the ends are left out one by one, never all of them, and taken in again", async () => {
  const workspace = await freePhrase();
  const { review } = workspace;
  const kept = () => {
    const { from, echo } = workspace.state.openEcho!;
    return [from, from + echo.hits.length];
  };
  expect(kept()).toEqual([0, 24]);
  review.stepEnd("first", 1);
  review.stepEnd("first", 1);
  review.stepEnd("last", -1);
  review.stepEnd("last", -1);
  expect(kept()).toEqual([2, 22]);
  for (let step = 0; step < 30; step++) review.stepEnd("first", 1);
  expect(kept()).toEqual([21, 22]);
  for (let step = 0; step < 30; step++) {
    review.stepEnd("first", -1);
    review.stepEnd("last", 1);
  }
  expect(kept()).toEqual([0, 24]);
  await answered();
  expect(chosen(workspace).bars).toBe(2);
});

test("a meter that the player says is the only one that is thought of, in all its groupings, until it is taken back", async () => {
  const workspace = await freePhrase();
  const meters = () => workspace.state.openEcho!.readings!.map(({ meter }) => `${meter.beats}/${meter.unit}`);
  const found = meters();
  workspace.readings.hint({ meter: { beats: 7, unit: 8 } });
  await answered();
  expect(new Set(meters())).toEqual(new Set(["7/8"]));
  expect(chosen(workspace).meter.groups).toHaveLength(3);
  workspace.readings.hint({ meter: { beats: 3, unit: 4 } });
  await answered();
  expect(new Set(meters())).toEqual(new Set(["3/4"]));
  workspace.readings.forgetHints();
  await answered();
  expect(meters()).toEqual(found);
});

test("an answer to an older question, or about another phrase, changes nothing", async () => {
  const waiting: (() => void)[] = [];
  const workspace = await freePhrase(async (...asked) => {
    await new Promise<void>((done) => waiting.push(done));
    return findReadings(...asked);
  });
  const answer = async (index: number) => {
    waiting[index]!();
    await answered();
  };
  expect(workspace.state.openEcho!.readings).toBeUndefined();
  workspace.readings.hint({ bars: 1 });
  await answer(0);
  expect(workspace.state.openEcho!.readings).toBeUndefined();
  await answer(1);
  expect(chosen(workspace).bars).toBe(1);
  workspace.readings.hint({ bars: 5 });
  workspace.review.open(workspace.echoes.refresh()[0]);
  await answer(3);
  await answer(2);
  expect(chosen(workspace).bars).toBe(2);
});

test("who plays on after a phrase came back is done with it: the newest is the next one to be taken", async () => {
  const workspace = await freePhrase();
  const { review, recall } = workspace;
  const hits = () => workspace.beat.parts[0]!.patterns.flatMap(({ passes }) => passes.flatMap((pass) => pass.hits));
  strike(workspace, 0, 9000);
  expect(workspace.state.openEcho).toBeDefined();
  recall.bringBack();
  expect(workspace.state.openEcho).toBeDefined();
  expect(hits()).toHaveLength(24);
  for (let stroke = 0; stroke < 8; stroke++) strike(workspace, 3, 20_000 + 300 * stroke);
  expect(workspace.state.openEcho).toBeUndefined();
  await recall.takeAtOnce();
  expect(hits().filter(({ lane }) => lane === 3)).toHaveLength(8);
  expect(hits()).toHaveLength(32);
  review.walk("older");
  expect(workspace.state.openEcho!.whole.hits).toHaveLength(8);
});

describe("one key brings back what the beat misses", () => {
  const allHits = ({ beat }: Workspace) =>
    beat.parts[0]!.patterns.flatMap(({ passes }) => passes.flatMap((pass) => pass.hits));
  const phrase = (workspace: Workspace, pad: number, fromMs: number) => {
    for (let stroke = 0; stroke < 8; stroke++) strike(workspace, pad, fromMs + 300 * stroke);
  };

  test("not the same twice, not a stray hit, and then the one before it", async () => {
    const { workspace } = openWorkspace(newRepository());
    phrase(workspace, 3, 1000);
    phrase(workspace, 8, 20_000);
    strike(workspace, 0, 40_000);
    const { recall } = workspace;
    // Two presses before the first is answered are one.
    await Promise.all([recall.takeAtOnce(), recall.takeAtOnce()]);
    expect(allHits(workspace).map(({ lane }) => lane)).toEqual(Array(8).fill(8));
    await recall.takeAtOnce();
    expect(allHits(workspace)).toHaveLength(16);
    const full = workspace.beat;
    await recall.takeAtOnce();
    expect([workspace.beat === full, workspace.state.notice]).toEqual([
      true,
      "All that was played here is in the beat, or too short.",
    ]);
    workspace.document.undo();
    await recall.takeAtOnce();
    expect(allHits(workspace).filter(({ lane }) => lane === 3)).toHaveLength(8);
  });

  test("what was played in another beat is not brought in unseen: the list is opened, and says so", async () => {
    const repository = newRepository();
    const before = openWorkspace(repository, { beat: newBeat({ id: "before", name: "Before" }) }).workspace;
    phrase(before, 3, 1000);
    await before.close();
    const { workspace } = openWorkspace(repository);
    await workspace.echoes.open();
    workspace.showView("mix");
    await workspace.recall.takeAtOnce();
    expect(allHits(workspace)).toEqual([]);
    expect(workspace.state).toMatchObject({
      view: "lanes",
      stack: "echoes",
      notice: expect.stringContaining("just played"),
    });
    phrase(workspace, 8, 60_000);
    await workspace.recall.takeAtOnce();
    expect(allHits(workspace).map(({ lane }) => lane)).toEqual(Array(8).fill(8));
  });

  test("an open one that is back says so, and its button still makes another", async () => {
    const workspace = await freePhrase();
    await workspace.recall.takeAtOnce();
    expect(allHits(workspace)).toHaveLength(24);
    await workspace.recall.takeAtOnce();
    expect([allHits(workspace).length, workspace.state.notice]).toEqual([24, "This echo is already in the beat."]);
    workspace.recall.bringBack();
    expect(allHits(workspace)).toHaveLength(48);
  });
});
