import fc from "fast-check";
import type { ToEngine } from "@/engine/protocol";
import { findPart, findPattern } from "@/core/beat/edit";
import { compileEvents } from "@/core/playback/compile-events";
import { readBeatFile, writeBeatFile } from "@/core/formats/beat-file";
import { BEAT_MS, FRAMES_PER_MS, LAP_MS, msOf, session, takeTestTime } from "../../../tests/support/session";
import type { Workspace } from "./workspace";
import { isErased, placeOf } from "../state/workspace-state";

takeTestTime();

const partIds = ({ beat }: Workspace) => beat.parts.map(({ id }) => id);
const hitsOfPart = ({ beat }: Workspace, part: number) =>
  beat.parts[part]!.patterns.flatMap(({ passes }) => passes.flatMap(({ hits }) => hits));
const inLap = (frames: readonly number[], lap: number) =>
  msOf(frames.filter((frame) => Math.floor(frame / (LAP_MS * FRAMES_PER_MS)) === lap)).map((ms) => ms - lap * LAP_MS);

test("from part to part while recording: each has what was played in it, all go on, and undo takes back lap by lap", () => {
  const { workspace, engine, play, goTo } = session();
  workspace.parts.addKit();
  workspace.parts.openAt(0);
  workspace.transport.toggleRecord();
  play(0, 0);
  play(0, 2000);
  workspace.parts.step(1);
  expect(workspace.state.transport.writing).toBe("record");
  play(1, 2500);
  play(1, LAP_MS + 500);
  workspace.command("nextPart", true, LAP_MS + 600);
  play(0, LAP_MS + 1000);
  goTo(3 * LAP_MS);
  expect(hitsOfPart(workspace, 0).map(({ lane, played }) => [lane, Math.round(played.ticks)])).toEqual([
    [0, 0],
    [0, 3840],
    [0, 1920],
  ]);
  expect(hitsOfPart(workspace, 1).map(({ lane, played }) => [lane, Math.round(played.ticks)])).toEqual([
    [1, 4800],
    [1, 960],
  ]);
  // In the third lap both parts have everything.
  expect(inLap(engine.heardFrames, 2)).toEqual([0, 500, 1000, 2000, 2500]);
  expect(readBeatFile(writeBeatFile(workspace.beat))).toEqual(workspace.beat);
  const labels = () => workspace.state.history.past.at(-1)?.label;
  const undone: (string | undefined)[] = [];
  for (let step = 0; step < 4; step++) {
    undone.push(labels());
    workspace.document.undo();
  }
  expect(undone).toEqual(["lap 2, 1 kick", "lap 2, 1 snare", "lap 1, 1 snare", "lap 1, 2 kicks"]);
  expect([hitsOfPart(workspace, 0), hitsOfPart(workspace, 1)]).toEqual([[], []]);
  // The part itself goes last; what plays is the one that is left.
  workspace.document.undo();
  expect(workspace.beat.parts).toHaveLength(1);
  expect(workspace.state.patternRef.partId).toBe(partIds(workspace)[0]);
  play(2, 4 * LAP_MS - 1000);
  expect(hitsOfPart(workspace, 0)).toHaveLength(1);
});

test("parts of other lengths go round by themselves; patterns change part by part, also of one that is not open any more", () => {
  const { workspace, engine, play, goTo } = session();
  workspace.transport.toggleRecord();
  play(0, 0);
  workspace.transport.toggleRecord();
  workspace.transport.stop();
  workspace.parts.addKit();
  workspace.setBars(1);
  const patternRef = workspace.state.patternRef;
  workspace.transport.toggleRecord();
  play(1, 2 * LAP_MS + BEAT_MS);
  const startMs =
    2 * LAP_MS + BEAT_MS - findPattern(workspace.beat, patternRef).passes[0]!.hits[0]!.played.ticks / 1.92;
  workspace.transport.toggleRecord();
  workspace.patterns.nextEmpty();
  workspace.parts.openAt(0);
  expect(workspace.state.patternRef.partId).toBe(partIds(workspace)[0]);
  goTo(startMs + 3 * LAP_MS);
  // The second part's change took over at its own lap's end, while the first one was open; open again, it is there.
  workspace.parts.step(-1);
  expect(workspace.state.patternRef).not.toEqual(patternRef);
  expect(workspace.state.patternRef.patternId).toBe(workspace.beat.parts[1]!.patterns[1]!.id);
  expect(workspace.state.otherPatterns[partIds(workspace)[0]!]).toBe(workspace.beat.parts[0]!.patterns[0]!.id);
  goTo(startMs + 3 * LAP_MS + 10);
  expect(engine.table.patternId).toBe(workspace.state.patternRef.patternId);
});

test("where the open part goes, the one before plays on in the pattern that it is in", () => {
  const { workspace, engine, goTo } = session();
  workspace.patterns.duplicate();
  expect(workspace.state.patternRef.patternId).toBe(workspace.beat.parts[0]!.patterns[1]!.id);
  workspace.parts.addKit();
  workspace.transport.play();
  goTo(1000);
  const starts = engine.orders.filter((order) => order.type === "queue").length;
  workspace.document.undo();
  goTo(2000);
  expect(workspace.state.patternRef).toEqual({
    partId: workspace.beat.parts[0]!.id,
    patternId: workspace.beat.parts[0]!.patterns[1]!.id,
  });
  expect(engine.orders.filter((order) => order.type === "queue")).toHaveLength(starts);
  expect(engine.last("remove")).toBeDefined();
});

test("what is held while another part is opened ends where it began: repeats are let go, and erasing takes nothing over", () => {
  const { workspace, engine, play, goTo } = session();
  workspace.transport.toggleRecord();
  play(1, 500);
  workspace.parts.addKit();
  play(1, 1500);
  workspace.parts.openAt(0);
  workspace.transport.toggleRecord();
  goTo(LAP_MS + 100);
  workspace.command("repeat 1/8", true, LAP_MS + 100);
  workspace.strike({ lane: 2, velocity: 100, timeMs: LAP_MS + 100, device: "keys" });
  goTo(LAP_MS + 600);
  workspace.parts.step(1);
  workspace.release({ lane: 2, timeMs: LAP_MS + 700, device: "keys" });
  goTo(LAP_MS + 800);
  const struck = engine.heardFrames.length;
  // The rate stays on: nothing is held any more, so all that is heard is the loop.
  goTo(2 * LAP_MS);
  expect(engine.heardFrames.length - struck).toBe(1);
  workspace.command("repeat 1/8", false, 2 * LAP_MS);

  workspace.parts.openAt(0);
  goTo(2 * LAP_MS + 600);
  workspace.command("erase", true, 2 * LAP_MS + 600);
  workspace.strike({ lane: 1, velocity: 100, timeMs: 2 * LAP_MS + 600, device: "keys" });
  // The other part has a hit 5 ms before it is opened, since the last sweep.
  goTo(2 * LAP_MS + 1505);
  expect(isErased(workspace.state, 1)).toBe(true);
  workspace.parts.step(1);
  expect(isErased(workspace.state, 1)).toBe(false);
  goTo(2 * LAP_MS + 1700);
  workspace.release({ lane: 1, timeMs: 2 * LAP_MS + 1700, device: "keys" });
  workspace.command("erase", false, 2 * LAP_MS + 1700);
  expect([hitsOfPart(workspace, 0).length, hitsOfPart(workspace, 1).length]).toEqual([1, 1]);
  goTo(3 * LAP_MS);
  const before = engine.heardFrames.length;
  goTo(4 * LAP_MS);
  expect(engine.heardFrames.length - before).toBe(2);
});

test("notes that repeat are written into the part that they were struck in, where its lines are", () => {
  const { workspace, goTo } = session();
  workspace.setBars(1);
  const one = workspace.state.patternRef;
  // Another part of another length, which began in the same run and was named last.
  workspace.parts.addKit();
  workspace.setBars(3);
  workspace.parts.openAt(0);
  workspace.transport.toggleRecord();
  goTo(LAP_MS + 100);
  workspace.command("repeat 1/4", true, LAP_MS + 100);
  workspace.strike({ lane: 2, velocity: 100, timeMs: LAP_MS + 100, device: "keys" });
  goTo(LAP_MS + 1600);
  workspace.release({ lane: 2, timeMs: LAP_MS + 1600, device: "keys" });
  workspace.command("repeat 1/4", false, LAP_MS + 1600);
  expect(findPattern(workspace.beat, one).passes[0]!.hits.map(({ played, lap }) => [played.ticks, lap])).toEqual([
    [960, 2],
    [1920, 2],
    [2880, 2],
  ]);
  expect(hitsOfPart(workspace, 1)).toEqual([]);
});

test("a fader, a mute or a solo of a part sends gains and no table; what is being recorded is heard all the same", () => {
  const { workspace, engine, play, goTo } = session();
  workspace.parts.addKit();
  const [first, second] = partIds(workspace) as [number, number];
  const gainOf = (partId: number) =>
    (
      engine.orders.findLast((order) => order.type === "mix" && order.partId === partId) as Extract<
        ToEngine,
        { type: "mix" }
      >
    ).mix;
  const since = engine.orders.length;
  const tablesSince = () =>
    engine.orders.slice(since).flatMap((order) => (order.type === "tables" ? order.tables : []));
  workspace.parts.setMix(first, { levelDb: -6 });
  goTo(100);
  expect(gainOf(first).gains[0]).toBeCloseTo(0.501, 3);
  workspace.parts.setMix(first, { levelDb: 0, pan: -1 });
  goTo(200);
  expect([...gainOf(first).gains.slice(0, 2)]).toEqual([expect.closeTo(1.414, 3), expect.closeTo(0, 6)]);
  workspace.parts.toggleSolo(second);
  goTo(300);
  expect(tablesSince()).toEqual([]);
  expect([gainOf(first).gains[0], gainOf(second).gains[0]]).toEqual([0, 1]);
  workspace.parts.openAt(0);
  workspace.transport.toggleRecord();
  play(0, 400);
  expect(gainOf(first).gains[0]).toBeGreaterThan(1);
  workspace.transport.toggleRecord();
  expect(gainOf(first).gains[0]).toBe(0);
  workspace.endSolo();
  goTo(600);
  expect(gainOf(first).gains[0]).toBeGreaterThan(1);
  workspace.parts.toggleMute(second);
  goTo(700);
  expect(gainOf(second).gains.every((gain) => gain === 0)).toBe(true);
  const before = tablesSince().length;
  workspace.setPad(0, { muted: true });
  goTo(800);
  const { muted } = engine.last("mix").mix;
  expect([muted[0], muted[1]]).toEqual([1, 0]);
  workspace.setPad(1, { soloed: true });
  workspace.parts.setMix(first, { levelDb: -3 });
  workspace.parts.toggleMute(second);
  goTo(900);
  expect(tablesSince()).toHaveLength(before);
});

test("parts are copied with ids of their own, renamed, moved and deleted, each with undo; the last one stays", () => {
  const { workspace, play } = session();
  workspace.transport.toggleRecord();
  play(3, 100);
  workspace.transport.stop();
  const [first] = partIds(workspace) as [number];
  workspace.parts.duplicate(first);
  const [, copy] = partIds(workspace) as [number, number];
  expect(workspace.state.patternRef.partId).toBe(copy);
  expect(hitsOfPart(workspace, 1).map(({ played }) => played)).toEqual(
    hitsOfPart(workspace, 0).map(({ played }) => played),
  );
  expect(readBeatFile(writeBeatFile(workspace.beat))).toEqual(workspace.beat);
  expect(findPart(workspace.beat, copy).name).toBe("Kit 2");
  workspace.parts.rename(copy, "  Shakers ");
  workspace.parts.rename(copy, " ");
  expect(workspace.beat.parts.map(({ name }) => name)).toEqual(["Kit", "Shakers"]);
  workspace.parts.move(copy, -1);
  workspace.parts.move(copy, -1);
  expect(workspace.beat.parts.map(({ name }) => name)).toEqual(["Shakers", "Kit"]);
  workspace.parts.remove(copy);
  workspace.parts.remove(first);
  expect(workspace.beat.parts.map(({ name }) => name)).toEqual(["Kit"]);
  expect(workspace.state.patternRef.partId).toBe(first);
  for (let step = 0; step < 3; step++) workspace.document.undo();
  expect(workspace.beat.parts.map(({ name }) => name)).toEqual(["Kit", "Kit 2"]);
});

test("an undo takes away the pattern that plays while another one is called up: that one takes over all the same", () => {
  const { workspace, goTo } = session({ switchAt: "bar" });
  const { patterns } = workspace;
  const open = () =>
    workspace.beat.parts[0]!.patterns.findIndex(({ id }) => id === workspace.state.patternRef.patternId);
  workspace.transport.play();
  patterns.duplicate();
  goTo(2100);
  patterns.duplicate();
  goTo(4100);
  expect([open(), workspace.state.queued]).toEqual([2, {}]);
  patterns.choose(0);
  goTo(4500);
  workspace.document.undo();
  goTo(5000);
  expect([open(), Object.keys(workspace.state.queued)]).toEqual([1, [String(workspace.beat.parts[0]!.id)]]);
  goTo(9000);
  expect([open(), workspace.state.queued]).toEqual([0, {}]);
  // Where it is the very one that plays in its place, nothing is left to wait for.
  patterns.duplicate();
  goTo(12_100);
  patterns.choose(1);
  workspace.document.undo();
  expect([open(), workspace.state.queued]).toEqual([1, {}]);
});

test("in any order of parts, patterns, mutes, strokes and undo, what sounds in the end is what the document says", () =>
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 14 }), { minLength: 5, maxLength: 25 }), (actions) => {
      const { workspace, engine, goTo, play } = session({ switchAt: "bar" });
      const { parts, patterns, transport, document } = workspace;
      const second = () => workspace.beat.parts[1]?.id ?? workspace.beat.parts[0]!.id;
      const does: readonly (() => void)[] = [
        () => parts.addKit(),
        () => parts.step(1),
        () => patterns.nextEmpty(),
        () => patterns.choose(0),
        () => parts.toggleMute(second()),
        () => parts.duplicate(second()),
        () => parts.remove(second()),
        () => document.undo(),
        () => document.redo(),
        () => transport.toggleRecord(),
        () => workspace.setBars(1 + (workspace.beat.nextId % 2)),
        () => patterns.duplicate(),
        () => patterns.swap(),
        () => patterns.keepThis(),
        () => patterns.toggleSilent(action % 4),
      ];
      transport.play();
      let atMs = 0;
      let action = 0;
      for (action of actions) {
        does[action]!();
        play(action % 4, (atMs += 333));
      }
      if (transport.state.transport.writing === "record") transport.toggleRecord();
      // All that was called up has taken over, and one lap of the longest round has gone by.
      const settledMs = Math.ceil((atMs + 2 * LAP_MS) / LAP_MS) * LAP_MS;
      goTo(settledMs + LAP_MS);
      expect(workspace.state.queued).toEqual({});
      const { beat, state } = workspace;
      const playing = beat.parts.map(({ id }) => placeOf(state, id).patternId).sort();
      const tables = engine.playing.filter(({ partId }) => beat.parts.some(({ id }) => id === partId));
      expect(tables.map(({ patternId }) => patternId).sort()).toEqual(playing);
      expect(engine.playing).toHaveLength(beat.parts.length);
      for (const table of tables) {
        const place = { partId: table.partId, patternId: table.patternId };
        expect([...table.ids]).toEqual([...compileEvents(beat, place).ids]);
        expect(table.span.lengthTicks).toBe(findPattern(beat, place).bars * 3840);
      }
      transport.stop();
    }),
    { numRuns: 40 },
  ));

test("patterns of all parts together: one number calls up those that have it, at rest and while the loop runs", () => {
  const { workspace, engine, play, goTo } = session({ patternsTogether: true });
  workspace.patterns.nextEmpty();
  workspace.parts.addVoice("keel");
  workspace.patterns.nextEmpty();
  workspace.parts.addKit();
  const at = () =>
    workspace.beat.parts.map(({ id, patterns }) =>
      patterns.findIndex((one) => one.id === placeOf(workspace.state, id).patternId),
    );
  expect(at()).toEqual([1, 1, 0]);
  workspace.parts.openAt(0);
  workspace.patterns.choose(0);
  expect(at()).toEqual([0, 0, 0]);
  workspace.patterns.choose(1);
  expect(at()).toEqual([1, 1, 0]);
  workspace.transport.play();
  goTo(100);
  workspace.patterns.choose(0);
  expect(Object.keys(workspace.state.queued)).toHaveLength(2);
  goTo(LAP_MS + 100);
  expect([at(), workspace.state.queued]).toEqual([[0, 0, 0], {}]);
  expect(engine.playing.map(({ patternId }) => patternId).sort((a, b) => a - b)).toEqual(
    workspace.beat.parts.map(({ patterns }) => patterns[0]!.id).sort((a, b) => a - b),
  );
  workspace.setSettings({ patternsTogether: false });
  workspace.patterns.choose(1);
  goTo(2 * LAP_MS + 100);
  expect(at()).toEqual([1, 0, 0]);
  play(0, 2 * LAP_MS + 200);
});

test("letting go of a kit's pad sends no table, as it changes no sound; of a key, or of a pad that a voice follows, it does", () => {
  const { workspace, engine, goTo } = session();
  const tables = () => engine.orders.filter(({ type }) => type === "tables").length;
  const letGoSends = (lane: number, ms: number) => {
    goTo(ms);
    workspace.strike({ lane, velocity: 90, timeMs: ms, device: "keys" });
    // The stroke's own table has gone by then.
    goTo(ms + 450);
    const before = tables();
    workspace.release({ lane, timeMs: ms + 450, device: "keys" });
    goTo(ms + 1000);
    return tables() - before;
  };
  const length = (part: number) => Math.round(hitsOfPart(workspace, part).at(-1)!.lengthTicks);
  workspace.transport.toggleRecord();
  const steps = () => workspace.state.history.past.length;
  expect([letGoSends(0, 500), steps()]).toEqual([0, 1]);
  // Nobody hears how long it was held: it is written at leisure, and no step of undo.
  expect([length(0), steps()]).toEqual([864, 1]);
  workspace.parts.addVoice("keel");
  expect([letGoSends(0, 2000), length(1)]).toEqual([1, 864]);
  const [kit, voice] = partIds(workspace);
  workspace.parts.setAlsoPlays(kit!, voice);
  workspace.parts.openAt(0);
  expect([letGoSends(1, 3500), length(0)]).toEqual([1, 864]);
  // What was held before it was followed is sent as soon as it is.
  workspace.parts.setAlsoPlays(kit!, undefined);
  expect([letGoSends(2, 5000), length(0)]).toEqual([0, 864]);
  workspace.parts.setAlsoPlays(kit!, voice);
  goTo(6500);
  expect(engine.playing.find(({ partId }) => partId === kit)!.lengthTicks.at(-1)).toBeCloseTo(864, 0);
});

test("patterns of all parts together change at one moment: when the longest loop of those that change is over", () => {
  const { workspace, engine, goTo } = session({ patternsTogether: true });
  workspace.patterns.nextEmpty();
  for (const bars of [1, 3, 4]) {
    workspace.parts.addKit();
    if (bars < 4) workspace.patterns.nextEmpty();
    workspace.patterns.choose(0);
    workspace.setBars(bars);
  }
  workspace.parts.openAt(0);
  workspace.transport.play();
  goTo(100);
  workspace.patterns.choose(1);
  goTo(110);
  // Of 2, 1 and 3 bars; the part of four has no second pattern.
  const waiting = Object.values(workspace.state.queued).map(({ at }) => at);
  expect(waiting).toEqual([3, 3, 3].map((bars) => ({ atTicks: bars * 3840, inSegment: expect.any(Number) })));
  goTo(1.5 * LAP_MS - 20);
  expect(Object.values(workspace.state.queued)).toHaveLength(3);
  goTo(1.5 * LAP_MS + 20);
  expect(workspace.state.queued).toEqual({});
  const second = workspace.beat.parts.map(({ patterns }) => (patterns[1] ?? patterns[0])!.id);
  expect(engine.playing.map(({ patternId }) => patternId).sort((a, b) => a - b)).toEqual(second.sort((a, b) => a - b));
});
