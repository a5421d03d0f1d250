import { addHits, addPass, editPass } from "@/core/beat/edit";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { partRows, rowsAsText } from "@/core/editing/hit-rows";
import { placesWith } from "@/core/editing/places-with";
import { seededRandom } from "@/core/random";
import type { Ticks } from "@/core/time/ticks";
import { resolvedHits } from "@/core/timing/resolve-timing";
import type { Workspace } from "../workspace/workspace";
import {
  FRAMES_PER_MS,
  hitsOf,
  LAP_MS,
  passesOf,
  patternsOf,
  session,
  takeTestTime,
} from "../../../tests/support/session";
import { newRepository } from "../../../tests/support/open-workspace";
import { Clipboard } from "./clipboard";

takeTestTime();

const TICK_FRAMES = 25;
const LAP_TICKS = 7680;
/** What a change brings no further than 120 ms behind the playhead still sounds. */
const LATE_TICKS = 231;

function beatWith(hits: readonly (readonly [lane: number, ticks: number, velocity?: number])[]) {
  const empty = newBeat({ id: "b", name: "B", bpm: 120 });
  const patternRef = firstPlace(empty);
  const added = addPass(empty, patternRef, {
    name: "P",
    muted: false,
    quantize: { grid: "off", strength: 1, reach: 1 },
  });
  return addHits(
    added.beat,
    patternRef,
    added.passId,
    hits.map(([lane, ticks, velocity = 90]) => ({
      lane,
      played: { ticks: ticks as Ticks, velocity },
      lengthTicks: 60 as Ticks,
    })),
  );
}

function open(hits: readonly (readonly [lane: number, ticks: number, velocity?: number])[]) {
  return session({}, 0, { beat: beatWith(hits), repository: newRepository(), atMs: 0 });
}

const placesOf = ({ beat, state }: Workspace) => {
  const part = beat.parts.find(({ id }) => id === state.patternRef.partId)!;
  const pattern = part.patterns.find(({ id }) => id === state.patternRef.patternId)!;
  return new Map(resolvedHits(pattern, beat.meter).map(({ hit, ticks }) => [hit.id, ticks as number]));
};

// Each hit keeps its own place within forty ticks, by which it is known among all that sounds.
test("five hundred edits while the loop runs: what stays where it is sounds once a lap, and nothing sounds twice in one", () => {
  const random = seededRandom(5);
  const { workspace, engine, goTo } = open(
    Array.from({ length: 20 }, (_, n) => [n % 4, 40 * (9 * n) + 2 * n] as const),
  );
  const ids = hitsOf(workspace).map(({ id }) => id);
  const hitAt = (ticks: number) => ids[(ticks % 40) / 2];
  workspace.transport.play();
  /** What was edited when. */
  const history: { readonly ms: number; readonly places: ReadonlyMap<number, number> }[] = [];
  const note = (ms: number) => history.push({ ms, places: placesOf(workspace) });
  note(0);
  for (let edit = 1; edit <= 500; edit++) {
    const ms = edit * 50;
    goTo(ms);
    workspace.lanes.select(ids.filter(() => random() < 0.2));
    const way = Math.floor(random() * 6);
    if (way < 3) workspace.hits.moveByTicks(40 * Math.floor(random() * 192));
    else if (way === 3) workspace.hits.moveByLanes(random() < 0.5 ? 1 : -1);
    else if (way === 4) workspace.hits.shiftVelocity(Math.floor(random() * 120) - 60, `weigh ${edit}`);
    else if (random() < 0.7) workspace.document.undo();
    else workspace.document.redo();
    note(ms);
  }
  goTo(500 * 50 + LAP_MS);
  const sounded = new Map<string, number>();
  for (const frame of engine.heardFrames) {
    const ticks = frame / TICK_FRAMES;
    const lap = Math.floor(ticks / LAP_TICKS);
    // It is, or was until just now, where it sounds; or an edit brought it just behind the playhead, and it is caught up with.
    const around = history.filter(({ ms }, index) => {
      const until = history[index + 1]?.ms ?? Infinity;
      return ms <= frame / FRAMES_PER_MS && until > frame / FRAMES_PER_MS - 60;
    });
    const lateOf = (id: number) =>
      Math.min(...around.map(({ places }) => (ticks % LAP_TICKS) - places.get(id)!).filter((late) => late >= 0));
    const exact = hitAt(ticks);
    const late = ids.filter((id) => lateOf(id) < LATE_TICKS && !sounded.has(`${id} ${lap}`));
    const id = exact !== undefined && lateOf(exact) === 0 ? exact : late[0];
    expect(id).toBeDefined();
    sounded.set(`${id} ${lap}`, (sounded.get(`${id} ${lap}`) ?? 0) + 1);
  }
  expect([...sounded.values()].every((times) => times === 1)).toBe(true);
  expect(sounded.size).toBeGreaterThan(80);
  // And whatever stood still from a moment before its time sounded, if it had not yet in that lap.
  for (const id of ids)
    for (let lap = 0; lap < 6; lap++) {
      const expected = history.some(({ ms, places }, index) => {
        const at = places.get(id)!;
        const dueMs = ((lap * LAP_TICKS + at) * TICK_FRAMES) / FRAMES_PER_MS;
        return ms + 60 < dueMs && (history[index + 1]?.ms ?? Infinity) > dueMs;
      });
      if (expected) expect([id, lap, sounded.get(`${id} ${lap}`)]).toEqual([id, lap, 1]);
    }
});

test("nudges are one step of undo, other edits one each; while recording no hit is lost to them", () => {
  const { workspace, goTo, play } = open([[2, 250]]);
  const [id] = hitsOf(workspace).map((hit) => hit.id) as [number];
  workspace.transport.toggleRecord();
  play(0, 500);
  workspace.lanes.select([id]);
  for (let nudge = 0; nudge < 5; nudge++) workspace.hits.moveByMs(1);
  workspace.hits.shiftVelocity(-50, "weigh");
  play(1, 1500);
  goTo(1600);
  const labels = () => workspace.state.history.past.map(({ label }) => label);
  expect(labels()).toEqual(["lap 1, 1 kick", "Move 1 hit", "Velocity of 1 hit", "lap 1, 2 hits"]);
  expect(placesOf(workspace).get(id)).toBeCloseTo(250 + 5 * 1.92, 6);
  expect(hitsOf(workspace)).toHaveLength(3);
  for (let step = 0; step < 3; step++) workspace.document.undo();
  expect(hitsOf(workspace)).toHaveLength(2);
  expect(placesOf(workspace).get(id)).toBe(250);
});

test("hits that are changed are heard as they are made, and a beat that is another tab's is left alone", () => {
  const { workspace } = open([[2, 250]]);
  workspace.lanes.selectAll();
  workspace.timing.listenTo("played");
  workspace.hits.moveByLines(1);
  expect(workspace.state.timingView).toBe("grooved");
  const before = workspace.beat;
  workspace.store.setState({ readOnly: true });
  workspace.hits.moveByLines(1);
  workspace.hits.remove();
  workspace.step.toggle();
  workspace.strike({ lane: 0, velocity: 90, timeMs: 0, device: "keys" });
  expect(workspace.beat).toBe(before);
});

test("what was copied is pasted into another pattern, where playback is, and from another page only if it is whole", async () => {
  const { workspace, goTo } = open([
    [2, 250],
    [0, 500],
  ]);
  workspace.lanes.selectAll();
  workspace.hits.copy();
  workspace.patterns.nextEmpty();
  await workspace.hits.paste("same");
  expect([...placesOf(workspace).values()]).toEqual([250, 500]);
  expect(workspace.state.selected).toHaveLength(2);
  workspace.transport.play();
  goTo(1010);
  await workspace.hits.paste("here");
  expect([...placesOf(workspace).values()]).toEqual([250, 500, 1930, 2180]);

  const texts = new Map<string, string>();
  const storage = {
    getItem: (key: string) => texts.get(key) ?? null,
    setItem: (key: string, text: string) => void texts.set(key, text),
    removeItem: (key: string) => void texts.delete(key),
  };
  const clip = {
    kind: "kit",
    hits: [{ lane: 2, played: { ticks: 0, velocity: 90 }, start: { ticks: 0, by: "hand" }, lengthTicks: 60 }],
  };
  new Clipboard(storage).write(clip as never);
  expect(await new Clipboard(storage).read()).toEqual(clip);
  const key = [...texts.keys()][0]!;
  for (const spoilt of [
    "{",
    "{}",
    JSON.stringify({ ...clip, hits: [{ ...clip.hits[0], played: { ticks: 0, velocity: 900 } }] }),
    JSON.stringify({ ...clip, kind: "choir" }),
  ]) {
    texts.set(key, spoilt);
    expect(await new Clipboard(storage).read()).toBeUndefined();
  }
});

test("what can't be copied is not cut; a loop that would be too long is not doubled", () => {
  const { workspace } = open([[2, 250]]);
  const [id] = hitsOf(workspace).map((hit) => hit.id) as [number];
  const silent = editPass(workspace.beat, firstPlace(workspace.beat), passesOf(workspace)[0]!.id, (pass) => ({
    ...pass,
    hits: pass.hits.map((hit) => ({ ...hit, masked: true as const })),
  }));
  workspace.document.edit(silent, "Mask");
  workspace.lanes.select([id]);
  workspace.hits.cut();
  expect(hitsOf(workspace)).toHaveLength(1);
  workspace.hits.unmask();
  expect(placesOf(workspace).get(id)).toBe(250);
  workspace.setBars(1001);
  workspace.hits.doubleLoop();
  expect([patternsOf(workspace.beat)[0]!.bars, workspace.state.notice]).toEqual([
    1001,
    "A loop has 2000 bars at the most.",
  ]);
});

test("step input: strokes made together are one step, one pad twice is two; it is taken back by key and by undo, and ties", () => {
  const { workspace, goTo, play } = open([]);
  const { step } = workspace;
  const at = () => workspace.state.step.at;
  const written = () =>
    hitsOf(workspace).map(({ lane, start, lengthTicks }) => [lane, start?.ticks, start?.lengthTicks ?? lengthTicks]);
  step.toggle();
  play(0, 100);
  play(2, 120);
  play(2, 130);
  expect(written()).toEqual([
    [0, 0, 240],
    [2, 0, 240],
    [2, 240, 240],
  ]);
  step.tie();
  expect([at(), written().at(-1)]).toEqual([720, [2, 240, 480]]);
  // Where another window has the beat by now, nothing is taken back, and the cursor stays.
  workspace.store.setState({ readOnly: true, editorState: "elsewhere" });
  step.takeBack();
  expect([at(), written().at(-1)]).toEqual([720, [2, 240, 480]]);
  workspace.store.setState({ readOnly: false, editorState: "editing" });
  step.takeBack();
  expect([at(), written()]).toEqual([
    240,
    [
      [0, 0, 240],
      [2, 0, 240],
    ],
  ]);
  workspace.document.undo();
  expect([at(), written()]).toEqual([0, []]);
  step.walk(1);
  step.walk(1);
  step.takeBack();
  expect(at()).toBe(240);
  step.setSettings({ velocity: 33, lengthTicks: 100 as Ticks, atEnd: "stop" });
  step.walk(-1);
  step.walk(-1);
  play(5, 1000);
  expect(hitsOf(workspace)[0]).toMatchObject({ lane: 5, played: { velocity: 33, ticks: 7440 }, lengthTicks: 100 });
  play(5, 2000);
  expect([hitsOf(workspace).length, workspace.state.notice]).toEqual([1, expect.stringContaining("end is reached")]);
  // What is recorded is not written.
  workspace.transport.toggleRecord();
  goTo(3000);
  play(1, 3500);
  expect(hitsOf(workspace).at(-1)!.start).toBeUndefined();
});

test("hits of several patterns are listed, chosen and changed together, in one step of undo", () => {
  const { workspace } = open([
    [2, 250],
    [0, 500],
  ]);
  workspace.patterns.duplicate();
  const { beat } = workspace;
  const [first, second] = patternsOf(beat);
  const rows = partRows(beat, beat.parts[0]!.id);
  expect(rows.map(({ patternName, laneName, ticks }) => [patternName, laneName, ticks])).toEqual([
    ["Pattern 1", "Side stick", 250],
    ["Pattern 1", "Kick", 500],
    ["Pattern 2", "Side stick", 250],
    ["Pattern 2", "Kick", 500],
  ]);
  expect(rowsAsText(rows, beat.meter, ",").split("\r\n")[3]).toBe("Pattern 2,1.1.250,Side stick,90,1/64,5.2,P,heard");
  const kicks = rows.filter(({ laneName }) => laneName === "Kick").map(({ id }) => id);
  workspace.lanes.select(kicks);
  expect(placesWith(beat, workspace.state.patternRef, new Set(kicks)).map(({ patternId }) => patternId)).toEqual([
    first!.id,
    second!.id,
  ]);
  workspace.hits.moveByTicks(7);
  const ticks = () => partRows(workspace.beat, beat.parts[0]!.id).map((row) => row.ticks);
  expect(ticks()).toEqual([250, 507, 250, 507]);
  workspace.document.undo();
  workspace.hits.remove();
  expect(ticks()).toEqual([250, 250]);
  workspace.document.undo();
  expect(workspace.beat.parts).toEqual(beat.parts);
});
