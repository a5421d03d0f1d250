import type { KitPart } from "@/core/beat/beat";
import { newBeat } from "@/core/beat/new-beat";
import { seededRandom } from "@/core/random";
import type { GridName } from "@/core/time/grid";
import {
  BEAT_MS,
  hitsOf,
  LAP_MS,
  msOf,
  passesOf,
  patternsOf,
  session,
  takeTestTime,
} from "../../../tests/support/session";
import { seeds } from "../../../tests/support/seeds";
import { lapLabel } from "../input/lap-label";

takeTestTime();

const BAR_MS = 4 * BEAT_MS;
const labelsOf = ({ workspace }: ReturnType<typeof session>) =>
  workspace.state.history.past.map(({ label }) => label).filter((label) => label.startsWith("lap"));

describe("the first note", () => {
  test.each([
    [140, "1/16", 60],
    [140, "1/32", 45],
    [140, "off", 80],
    [90, "1/64", 320],
    [200, "1/16", 149],
  ] as const)("at %i BPM on %s, %i ms early, is beat 1, and is heard there from the next lap on", (bpm, grid, ms) => {
    const { workspace, engine, play, goTo } = session({ countInBars: 1 });
    workspace.setTempo(bpm);
    workspace.timing.setQuantize({ grid: grid as GridName });
    const barMs = (4 * 60_000) / bpm;
    workspace.transport.toggleRecord();
    play(0, barMs - ms);
    play(1, barMs + barMs / 2);
    goTo(barMs + 2 * barMs - 400);
    const sounded = engine.heardFrames.length;
    goTo(barMs + 3 * barMs);
    const [first] = hitsOf(workspace);
    expect((first!.played.ticks / 960) * (60_000 / bpm)).toBeCloseTo(-ms, 6);
    const downbeatMs = barMs + 2 * barMs - (grid === "off" ? ms : 0);
    expect(msOf(engine.heardFrames.slice(sounded))[0]).toBeCloseTo(downbeatMs, -1);
    expect(workspace.state.pickUp).toBeUndefined();
  });

  test("what is earlier in the count-in waits as a pick-up; one press brings it in, it leads into every lap, and goes with undo", () => {
    const { workspace, engine, play, goTo } = session({ countInBars: 1 });
    workspace.transport.toggleRecord();
    play(2, BAR_MS - 2 * 250);
    play(2, BAR_MS - 250 - 5);
    play(0, BAR_MS + 1);
    expect(workspace.state.pickUp?.hits.map(({ played: { ticks } }) => Math.round(ticks))).toEqual([6720, 7190]);
    const before = workspace.beat;
    workspace.recorder.takePickUp();
    expect([hitsOf(workspace).length, workspace.state.pickUp]).toEqual([3, undefined]);
    goTo(BAR_MS + LAP_MS - 1000);
    const sounded = engine.heardFrames.length;
    goTo(BAR_MS + LAP_MS + 100);
    const end = BAR_MS + LAP_MS;
    expect(msOf(engine.heardFrames.slice(sounded))).toEqual([end - 500, end - 250, end]);
    workspace.document.undo();
    expect(workspace.beat).toBe(before);
  });

  test("it goes into the pass that it led into, whatever was recorded since, and into one of its own where that is gone", () => {
    const { workspace, play } = session({ countInBars: 1 });
    workspace.transport.toggleRecord();
    play(2, BAR_MS - 2 * 250);
    play(0, BAR_MS + 1);
    workspace.transport.toggleRecord();
    workspace.transport.toggleRecord();
    play(1, BAR_MS + BEAT_MS);
    const sizes = () => passesOf(workspace).map(({ name, hits }) => [name, hits.length]);
    const [first] = passesOf(workspace);
    workspace.recorder.takePickUp();
    expect(sizes()).toEqual([
      ["Pass 1", 2],
      ["Pass 2", 1],
    ]);
    workspace.document.undo();
    workspace.removePass(first!.id);
    workspace.store.setState({
      pickUp: { patternRef: workspace.state.patternRef, hits: first!.hits, passId: first!.id },
    });
    workspace.recorder.takePickUp();
    expect(sizes()).toEqual([
      ["Pass 2", 1],
      ["Pick-up", 1],
    ]);
  });

  test("a later lap has no opening: half a beat before its end is the end", () => {
    const { workspace, play } = session();
    workspace.transport.toggleRecord();
    play(0, LAP_MS - 200);
    expect(hitsOf(workspace).map(({ played: { ticks }, lap }) => [Math.round(ticks), lap])).toEqual([[7296, 0]]);
  });
});

describe.each([0, 50, 200])("changing patterns while recording, with %i ms to the ear", (outputMs) => {
  test.each(["lap", "bar"] as const)(
    "at the %s: three early strokes are one pass on the new downbeat, what is before stays, each in its own lap",
    (switchAt) => {
      const { workspace, engine, play, goTo } = session({ switchAt }, outputMs);
      workspace.transport.toggleRecord();
      play(0, outputMs + 1);
      workspace.command("nextPattern", true, outputMs + 1);
      const boundaryMs = outputMs + (switchAt === "lap" ? LAP_MS : BAR_MS);
      play(1, boundaryMs - 300);
      play(2, boundaryMs - 40);
      play(3, boundaryMs - 30);
      play(4, boundaryMs - 20);
      play(5, boundaryMs + 10);
      play(6, boundaryMs + BEAT_MS);
      const placed = (pattern: number) =>
        hitsOf(workspace, pattern).map(({ lane, played: { ticks }, lap }) => [lane, Math.round(ticks / 1.92), lap]);
      expect(placed(0)).toEqual([
        [0, 1, 0],
        [1, boundaryMs - outputMs - 300, 0],
      ]);
      expect(placed(1)).toEqual([
        [2, -40, 0],
        [3, -30, 0],
        [4, -20, 0],
        [5, 10, 0],
        [6, BEAT_MS, 0],
      ]);
      expect([passesOf(workspace, 0).length, passesOf(workspace, 1).length]).toEqual([1, 1]);
      // Struck once, and from the next lap on once a lap.
      goTo(boundaryMs - outputMs + LAP_MS - 60);
      const sounded = engine.heardFrames.length;
      goTo(boundaryMs - outputMs + 2 * LAP_MS - 60);
      expect(msOf(engine.heardFrames.slice(sounded)).filter((ms, index, all) => ms !== all[index - 1])).toEqual([
        boundaryMs - outputMs + LAP_MS,
        boundaryMs - outputMs + LAP_MS + BEAT_MS,
      ]);
    },
  );

  test("the strokes of a busy page come late and still belong where they were heard", () => {
    const { workspace, engine, goTo } = session({}, outputMs);
    workspace.transport.toggleRecord();
    goTo(100);
    workspace.command("nextPattern", true, 100);
    const boundaryMs = outputMs + LAP_MS;
    goTo(boundaryMs + 100);
    workspace.strike({ lane: 0, velocity: 100, timeMs: boundaryMs - 30, device: "keys" });
    workspace.strike({ lane: 1, velocity: 100, timeMs: boundaryMs - 200, device: "keys" });
    expect(hitsOf(workspace, 1).map(({ lane, played: { ticks } }) => [lane, Math.round(ticks / 1.92)])).toEqual([
      [0, -30],
    ]);
    expect(hitsOf(workspace, 0).map(({ lane, lap }) => [lane, lap])).toEqual([[1, 0]]);
    expect(engine.table.patternId).toBe(patternsOf(workspace.beat)[1]!.id);
  });
});

describe("taking back", () => {
  test.each([
    [{ 8: 15, 9: 1 }, "lap 3, 16 hats"],
    [{ 0: 1 }, "lap 3, 1 kick"],
    [{ 12: 2 }, "lap 3, 2 crashes"],
    [{ 0: 2, 1: 2, 8: 0 }, "lap 3, 4 hits"],
  ])("what is taken back is told: %j is %s", (counts, label) =>
    expect(
      lapLabel(2, [{ part: newBeat({ id: "b", name: "B" }).parts[0]!, counts: counts as Record<number, number> }]),
    ).toBe(label),
  );

  test("in overdub it is the newest lap that goes, the label says what it is, and recording goes on", () => {
    const made = session();
    const { workspace, play, goTo } = made;
    workspace.transport.toggleRecord();
    for (let beat = 0; beat < 8; beat++) play(0, beat * BEAT_MS + 1);
    for (let step = 0; step < 16; step++) play(8 + (step % 2), 2 * LAP_MS + step * 250 + 1);
    play(1, 3 * LAP_MS + 1);
    play(0, 3 * LAP_MS + BEAT_MS);
    expect(labelsOf(made)).toEqual(["lap 1, 8 kicks", "lap 3, 16 hats", "lap 4, 2 hits"]);
    workspace.document.undo();
    workspace.document.undo();
    expect([hitsOf(workspace).length, workspace.state.notice]).toEqual([8, "Undone: lap 3, 16 hats"]);
    goTo(4 * LAP_MS - 100);
    play(1, 4 * LAP_MS + BEAT_MS);
    expect(labelsOf(made)).toEqual(["lap 1, 8 kicks", "lap 5, 1 snare"]);
    // One trip in and out of record, one pass.
    expect(passesOf(workspace)).toHaveLength(1);
    workspace.document.undo();
    workspace.document.undo();
    expect(passesOf(workspace)).toHaveLength(0);
  });
});

test("a recording that was undone is an echo that comes back, from its pick-up on; what was left in the beat is not", async () => {
  const { workspace, play, goTo } = session({ countInBars: 1 });
  workspace.transport.toggleRecord();
  play(2, BAR_MS - 2 * 250);
  for (let beat = 0; beat < 8; beat++) play(0, BAR_MS + beat * BEAT_MS + 1);
  for (let beat = 0; beat < 8; beat++) play(1, BAR_MS + LAP_MS + beat * BEAT_MS + 1);
  workspace.transport.stop();
  goTo(BAR_MS + 3 * LAP_MS);
  const full = hitsOf(workspace).length;
  await workspace.recall.takeAtOnce();
  expect([full, hitsOf(workspace).length]).toEqual([16, 16]);
  workspace.document.undo();
  expect(hitsOf(workspace)).toHaveLength(8);
  await workspace.recall.takeAtOnce();
  const back = passesOf(workspace).at(-1)!.hits;
  expect(back.map(({ lane, played: { ticks } }) => [lane, Math.round(ticks)])).toEqual(
    [[1, 2], ...Array.from({ length: 7 }, (_, beat) => [1, 960 * (beat + 1) + 2]), [2, 6720]].toSorted(
      ([a], [b]) => a! - b!,
    ),
  );
  expect(workspace.review.isThere(workspace.echoes.refresh().at(-1)!)).toBe(true);
});

const TIMING_VIEWS = ["played", "corrected", "grooved"] as const;

describe.each(TIMING_VIEWS)("while it is heard %s", (timingView) => {
  test.each(seeds(6))("erase takes what is heard while both are held, and nothing else (seed %i)", (seed) => {
    const { workspace, engine, play, goTo } = session();
    const random = seededRandom(seed);
    workspace.timing.setQuantize({ grid: "1/8", strength: 0.7 });
    workspace.transport.toggleRecord();
    // Far from one another, so that no two fall on one line.
    for (let beat = 0; beat < 7; beat++) play(0, 100 + beat * BEAT_MS + 300 * random());
    workspace.transport.stop();
    goTo(LAP_MS + 1000);
    workspace.timing.setFeel(() => ({ swing: { ratio: 0.72, unit: "1/8" } }), "Swing");
    workspace.timing.listenTo(timingView);
    workspace.transport.play();
    const startMs = LAP_MS + 1000;
    const lap = (number: number) => {
      const from = (startMs + number * LAP_MS) * 48;
      return engine.heardFrames
        .filter((frame) => frame >= from - 480 && frame < from + LAP_MS * 48 - 480)
        .map((frame) => Math.round((frame - from) / 48));
    };
    goTo(startMs + LAP_MS - 20);
    // Not so near to a hit that it depends on where a block of samples begins.
    const clear = (least: number): number => {
      const ms = least + 1500 * random();
      return lap(0).some((at) => Math.abs(at - ms) < 15) ? clear(least) : ms;
    };
    const fromMs = startMs + LAP_MS + clear(300);
    const toMs = startMs + LAP_MS + clear(2200);
    goTo(fromMs);
    workspace.command("erase", true, fromMs);
    workspace.strike({ lane: 0, velocity: 100, timeMs: fromMs, device: "keys" });
    goTo(toMs);
    workspace.release({ lane: 0, timeMs: toMs, device: "keys" });
    workspace.command("erase", false, toMs);
    goTo(startMs + 3 * LAP_MS);
    const held = (ms: number) => ms >= fromMs! - startMs - LAP_MS && ms < toMs! - startMs - LAP_MS;
    expect(lap(0).length).toBe(7);
    expect(lap(1)).toEqual(lap(0).filter((ms) => !held(ms)));
    expect(lap(2)).toEqual(lap(1));
    expect(hitsOf(workspace)).toHaveLength(lap(1).length);
  });
});

describe("solo and mute", () => {
  test("what is recorded beside a soloed pass is heard, and the way out lets all be heard", () => {
    const { workspace, engine, play, goTo } = session();
    workspace.transport.toggleRecord();
    play(0, 1);
    workspace.transport.toggleRecord();
    play(2, BEAT_MS);
    workspace.transport.toggleRecord();
    play(1, 2 * BEAT_MS);
    const [first] = passesOf(workspace);
    workspace.soloPass(first!.id, true);
    workspace.transport.toggleRecord();
    workspace.transport.toggleRecord();
    play(3, 4 * BEAT_MS);
    goTo(LAP_MS - 50);
    let sounded = engine.heardFrames.length;
    goTo(2 * LAP_MS - 50);
    expect(msOf(engine.heardFrames.slice(sounded))).toEqual([LAP_MS, LAP_MS + 4 * BEAT_MS]);
    workspace.endSolo();
    sounded = engine.heardFrames.length;
    goTo(3 * LAP_MS - 50);
    expect(msOf(engine.heardFrames.slice(sounded))).toEqual([0, 2, 4].map((beat) => 2 * LAP_MS + beat * BEAT_MS));
    workspace.document.undo();
    expect(passesOf(workspace).map(({ soloed }) => soloed ?? false)).toEqual([true, false, true]);
  });

  test("what is recorded on a silenced lane is heard as long as it is recorded, what was there is not", () => {
    const { workspace, engine, play, goTo } = session();
    workspace.transport.toggleRecord();
    play(0, 1);
    workspace.transport.toggleRecord();
    workspace.setPad(0, { muted: true });
    workspace.transport.toggleRecord();
    play(0, 3 * BEAT_MS);
    goTo(LAP_MS - 50);
    let sounded = engine.heardFrames.length;
    goTo(2 * LAP_MS - 50);
    expect(msOf(engine.heardFrames.slice(sounded))).toEqual([LAP_MS + 3 * BEAT_MS]);
    workspace.transport.toggleRecord();
    sounded = engine.heardFrames.length;
    goTo(3 * LAP_MS - 50);
    expect(engine.heardFrames.slice(sounded)).toEqual([]);
  });
});

test("no tempo is tapped while record is on, and a tempo that is said ends the trying of another", () => {
  const { workspace, goTo } = session();
  const tap = (ms: number) => {
    goTo(ms);
    workspace.command("tapTempo", true, ms);
  };
  workspace.transport.toggleRecord();
  [500, 900, 1300, 1700].forEach(tap);
  expect([workspace.state.tapped, workspace.state.notice]).toEqual([
    undefined,
    "No tapping of a tempo while record is on.",
  ]);
  workspace.transport.toggleRecord();
  [2100, 2500, 2900].forEach(tap);
  expect(workspace.state.tapped?.bpm).toBeCloseTo(150, 6);
  workspace.setTempo(97);
  expect([workspace.state.tapped, workspace.beat.bpm]).toEqual([undefined, 97]);
});

test("the same is said twice, and counted", () => {
  const { workspace } = session();
  const before = workspace.state.noticeCount;
  workspace.patterns.choose(9);
  workspace.patterns.choose(9);
  expect(workspace.state.noticeCount).toBe(before + 2);
});

test("an empty pattern that plays clicks, one with a hit does not", () => {
  const { workspace, engine, play, goTo } = session({ clickOn: true });
  workspace.transport.play();
  goTo(LAP_MS - 100);
  expect(engine.heardFrames.length).toBeGreaterThan(8);
  workspace.transport.toggleRecord();
  play(0, LAP_MS + 1);
  workspace.transport.toggleRecord();
  goTo(2 * LAP_MS - 50);
  const sounded = engine.heardFrames.length;
  goTo(3 * LAP_MS - 50);
  expect(msOf(engine.heardFrames.slice(sounded))).toEqual([2 * LAP_MS]);
});

test("the click of an empty pattern ends where one with hits takes over", () => {
  const { workspace, play, goTo, engine } = session({ clickOn: true });
  workspace.transport.toggleRecord();
  play(0, 1);
  workspace.transport.stop();
  goTo(1000);
  workspace.patterns.nextEmpty();
  workspace.transport.play();
  expect(engine.click.on).toBe(true);
  workspace.patterns.choose(0);
  goTo(1000 + LAP_MS + 100);
  expect([workspace.state.patternRef.patternId, engine.click.on]).toEqual([patternsOf(workspace.beat)[0]!.id, false]);
});

test("a key strikes the pad that lies in its place, whatever its id is", () => {
  const { workspace, goTo } = session();
  const part = workspace.beat.parts[0] as KitPart;
  const pads = part.pads.map((lane) => ({ ...lane, id: 127 - lane.id }));
  workspace.document.edit({ ...workspace.beat, parts: [{ ...part, pads }] }, "Other ids");
  expect([workspace.lanesAt(0), workspace.lanesAt(15), workspace.lanesAt(16)]).toEqual([[127], [112], []]);
  workspace.transport.toggleRecord();
  workspace.strike({ lane: 127, velocity: 100, timeMs: 1, device: "keys" });
  goTo(10);
  expect(hitsOf(workspace).map(({ lane }) => lane)).toEqual([127]);
});

test("a stroke is as long as it is held, sixty ticks at least, and a cymbal can be grabbed long after it was let go", () => {
  const { workspace, goTo } = session();
  workspace.transport.toggleRecord();
  const hold = (lane: number, ms: number, forMs: number) => {
    goTo(ms);
    workspace.strike({ lane, velocity: 100, timeMs: ms, device: "keys" });
    goTo(ms + forMs);
    workspace.release({ lane, timeMs: ms + forMs, device: "keys" });
  };
  hold(0, 100, 5);
  hold(12, 500, 100);
  goTo(1500);
  workspace.choke({ lane: 12, timeMs: 1500, device: "keys" });
  workspace.choke({ lane: 12, timeMs: 1800, device: "keys" });
  expect(hitsOf(workspace).map(({ lengthTicks, choked }) => [Math.round(lengthTicks), choked ?? false])).toEqual([
    [60, false],
    [1920, true],
  ]);
});

test("erase that is held while another pattern takes over takes nothing of the one it takes over from in the second", () => {
  const { workspace, play, goTo } = session();
  workspace.transport.toggleRecord();
  play(0, 3 * BEAT_MS);
  play(0, 7 * BEAT_MS);
  workspace.command("nextPattern", true, 7 * BEAT_MS);
  // One so near its beginning that only what goes back to there takes it.
  play(0, LAP_MS + 5);
  play(0, LAP_MS + 3 * BEAT_MS);
  play(0, LAP_MS + 6 * BEAT_MS);
  workspace.patterns.choose(0);
  goTo(2 * LAP_MS + 6 * BEAT_MS);
  workspace.patterns.choose(1);
  // From beat 7 of the first pattern to beat 5 of the second: one hit of each.
  workspace.command("erase", true, 2 * LAP_MS + 6 * BEAT_MS);
  workspace.strike({ lane: 0, velocity: 100, timeMs: 2 * LAP_MS + 6 * BEAT_MS, device: "keys" });
  goTo(3 * LAP_MS + 4 * BEAT_MS);
  workspace.release({ lane: 0, timeMs: 3 * LAP_MS + 4 * BEAT_MS, device: "keys" });
  workspace.command("erase", false, 3 * LAP_MS + 4 * BEAT_MS);
  const left = (pattern: number) => hitsOf(workspace, pattern).map(({ played: { ticks } }) => Math.round(ticks / 960));
  expect([left(0), left(1)]).toEqual([[3], [6]]);
});

test("a pad that is let go once more, by a driver that says so twice, is let go in the part that is open by then", () => {
  const { workspace, engine, goTo, play } = session();
  const [kit] = workspace.beat.parts;
  play(0, 10);
  workspace.parts.addKit();
  goTo(20);
  const { partId } = workspace.state.patternRef;
  expect(partId).not.toBe(kit!.id);
  workspace.release({ lane: 0, timeMs: 20, device: "keys" });
  expect(engine.last("let-go")).toEqual({ type: "let-go", partId, lane: 0 });
});
