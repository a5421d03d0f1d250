import type { MidiPort } from "@/inputs/midi-port";
import { findPart, setPart } from "@/core/beat/edit";
import { splitEchoes, type LookbackHit } from "@/core/recover/echo";
import { missingHits } from "@/core/recover/missing-hits";
import { seededRandom } from "@/core/random";
import { LAP_MS, session, takeTestTime } from "../../../tests/support/session";
import type { PartLanes } from "@/core/sound/signal/sound";
import type { Workspace } from "../workspace/workspace";

takeTestTime();

/** A device that is plugged into a workspace; what it sends has the test's time stamps. */
function plugged({ devices }: Workspace, name: string) {
  let listener: Parameters<MidiPort["listen"]>[0] = () => {};
  devices.plugged({
    name,
    id: name,
    listen(hear) {
      listener = hear;
      return () => {};
    },
  });
  return (bytes: readonly number[], timeMs: number) => listener(bytes, timeMs);
}

const hitsOf = ({ beat }: Workspace, partId: number) =>
  findPart(beat, partId).patterns.flatMap(({ passes }) => passes.flatMap(({ hits }) => hits));

function twoDevices() {
  const made = session();
  const { workspace } = made;
  workspace.timing.setQuantize({ grid: "off" });
  const [kit] = workspace.beat.parts.map(({ id }) => id) as [number];
  workspace.parts.addVoice("cabin");
  const keys = workspace.state.patternRef.partId;
  workspace.parts.addVoice("fog");
  const pads = plugged(workspace, "Pads");
  const keyboard = plugged(workspace, "Keyboard");
  workspace.devices.setProfile("Pads", { plays: "Kit" });
  workspace.devices.setProfile("Keyboard", { plays: "Cabin" });
  return { ...made, kit, keys, pads, keyboard };
}

test("two devices at fifty hits a second each into two parts: every hit in its own, as played, undone together, both back", async () => {
  const { workspace, goTo, kit, keys, pads, keyboard } = twoDevices();
  workspace.transport.toggleRecord();
  const random = seededRandom(3);
  const struck = { pads: [] as number[], keys: [] as number[] };
  for (let at = 10; at < LAP_MS - 100; at += 20) {
    goTo(at);
    const [padMs, keyMs] = [at + 9 * random(), at + 9 * random()];
    struck.pads.push(padMs);
    struck.keys.push(keyMs);
    const note = 60 + Math.floor(12 * random());
    pads([0x99, at % 40 === 10 ? 36 : 42, 90], padMs);
    keyboard([0x90, note, 70], keyMs);
    pads([0x89, at % 40 === 10 ? 36 : 42, 0], padMs + 3);
    keyboard([0x80, note, 0], keyMs + 12);
  }
  goTo(LAP_MS - 50);
  workspace.transport.toggleRecord();
  // 120 BPM: 1.92 ticks a millisecond.
  const msOf = (partId: number) => hitsOf(workspace, partId).map(({ played }) => played.ticks / 1.92);
  expect(msOf(kit)).toHaveLength(struck.pads.length);
  msOf(kit).forEach((ms, at) => expect(ms).toBeCloseTo(struck.pads[at]!, 6));
  msOf(keys).forEach((ms, at) => expect(ms).toBeCloseTo(struck.keys[at]!, 6));
  hitsOf(workspace, keys).forEach(({ lengthTicks }) => expect(lengthTicks).toBeGreaterThanOrEqual(60));
  // The open part was played by nobody.
  expect(hitsOf(workspace, workspace.state.patternRef.partId)).toEqual([]);
  const label = workspace.state.history.past.at(-1)!.label;
  expect(label).toMatch(/^lap 1, Kit \d+ hits, Cabin \d+ notes$/);
  workspace.document.undo();
  expect([hitsOf(workspace, kit), hitsOf(workspace, keys)]).toEqual([[], []]);
  const all = struck.pads.length;
  workspace.transport.stop();
  goTo(LAP_MS + 3000);
  await workspace.recall.takeAtOnce();
  expect([hitsOf(workspace, kit).length, hitsOf(workspace, keys).length]).toEqual([all, all]);
  msOf(keys).forEach((ms, at) => expect(ms).toBeCloseTo(struck.keys[at]!, 6));
  // Notes come back as long as they were held.
  const lengths = hitsOf(workspace, keys).map(({ lengthTicks }) => lengthTicks);
  expect(Math.min(...lengths)).toBeGreaterThanOrEqual(60);
});

test("of an echo of two parts that of one may come back; the other is missed still, and comes with the next", async () => {
  const { workspace, goTo, kit, keys, pads, keyboard } = twoDevices();
  workspace.transport.play();
  for (const at of [100, 600, 1100, 1600]) {
    goTo(at);
    pads([0x99, 36, 90], at);
    keyboard([0x90, 64, 70], at + 5);
    goTo(at + 300);
    keyboard([0x80, 64, 0], at + 305);
  }
  goTo(2000);
  workspace.transport.stop();
  goTo(5000);
  const [echo] = workspace.echoes.refresh().slice(-1);
  expect(echo!.hits).toHaveLength(8);
  workspace.review.open(echo);
  workspace.recall.setRecall({ partId: keys });
  workspace.recall.bringBack();
  expect([hitsOf(workspace, kit).length, hitsOf(workspace, keys).length]).toEqual([0, 4]);
  expect(hitsOf(workspace, keys).map(({ lengthTicks }) => Math.round(lengthTicks))).toEqual([576, 576, 576, 576]);
  expect(missingHits(echo!, workspace.beat).map(({ partId }) => partId)).toEqual([kit, kit, kit, kit]);
  workspace.review.open(undefined);
  await workspace.recall.takeAtOnce();
  expect([hitsOf(workspace, kit).length, hitsOf(workspace, keys).length]).toEqual([4, 4]);
});

test("a device finds its part by name in any beat, goes along with a new name, and plays the open part where there is none", () => {
  const { workspace, goTo, keys, keyboard } = twoDevices();
  workspace.transport.toggleRecord();
  goTo(100);
  keyboard([0x90, 60, 70], 100);
  const keep = workspace.beat;
  workspace.parts.rename(keys, "Lamps");
  expect(workspace.devices.profileOf("Keyboard").plays).toBe("Lamps");
  // As often as the name is taken back and given again.
  const plays = () => workspace.devices.profileOf("Keyboard").plays;
  const before = (workspace.document.undo(), plays());
  expect([before, (workspace.document.redo(), plays())]).toEqual([findPart(keep, keys).name, "Lamps"]);
  keyboard([0x80, 60, 0], 150);
  workspace.devices.setProfile("Keyboard", { plays: "Nobody" });
  goTo(600);
  keyboard([0x90, 62, 70], 600);
  expect(hitsOf(workspace, keys).map(({ lane }) => lane)).toEqual([60]);
  expect(hitsOf(workspace, workspace.state.patternRef.partId).map(({ lane }) => lane)).toEqual([62]);
});

test("the sustain pedal holds notes of a voice until it comes up, and a device that goes away leaves none", () => {
  const { workspace, engine, goTo, keys, keyboard } = twoDevices();
  goTo(10);
  keyboard([0xb0, 64, 127], 10);
  keyboard([0x90, 60, 70], 20);
  keyboard([0x80, 60, 0], 30);
  keyboard([0x90, 64, 70], 40);
  const ends = () => engine.orders.flatMap((order) => (order.type === "let-go" ? [[order.partId, order.lane]] : []));
  expect(ends()).toEqual([]);
  keyboard([0xb0, 64, 0], 50);
  expect(ends()).toEqual([[keys, 60]]);
  keyboard([0xb0, 64, 127], 60);
  keyboard([0x80, 64, 0], 70);
  workspace.devices.unplugged("Keyboard");
  expect(ends()).toEqual([
    [keys, 60],
    [keys, 64],
  ]);
});

test("the sustain pedal lets go what it holds, whatever the device plays by then; of a kit it holds nothing", () => {
  const { workspace, engine, keyboard, keys } = twoDevices();
  keyboard([0xb0, 64, 127], 10);
  keyboard([0x90, 60, 70], 20);
  keyboard([0x80, 60, 0], 30);
  workspace.devices.setProfile("Keyboard", { plays: "Kit" });
  const ends = () => engine.orders.flatMap((order) => (order.type === "let-go" ? [[order.partId, order.lane]] : []));
  keyboard([0x90, 36, 70], 40);
  keyboard([0x80, 36, 0], 50);
  expect(ends()).toHaveLength(1);
  keyboard([0xb0, 64, 0], 60);
  expect(ends().slice(1)).toEqual([[keys, 60]]);
});

test("what a part also plays is told of a copy, too, and no more of a part that is gone", () => {
  const { workspace, engine, kit, goTo } = twoDevices();
  workspace.parts.duplicate(kit);
  workspace.parts.duplicate(kit);
  const [, second, third] = workspace.beat.parts.map(({ id }) => id) as [number, number, number];
  const also = () =>
    (engine.orders.findLast((order) => order.type === "lanes" && order.partId === kit) as { lanes: PartLanes }).lanes
      .also;
  workspace.parts.setAlsoPlays(kit, third);
  goTo(performance.now() + 200);
  workspace.parts.setAlsoPlays(kit, second);
  goTo(performance.now() + 200);
  expect(also()).toMatchObject([{ partId: second }]);
  workspace.parts.remove(second);
  goTo(performance.now() + 200);
  expect(also()).toBeUndefined();
});

test("what a part also plays sounds in the other one, struck, repeated and played back, and ends there too; never in a circle", () => {
  const { workspace, engine, goTo, play, kit, keys } = twoDevices();
  const [, , fog] = workspace.beat.parts.map(({ id }) => id) as [number, number, number];
  workspace.parts.setAlsoPlays(keys, fog);
  workspace.parts.setAlsoPlays(fog, keys);
  expect(findPart(workspace.beat, fog).alsoPlays).toBeUndefined();
  expect(workspace.state.notice).toContain("in a circle");
  workspace.parts.setAlsoPlays(kit, keys);
  goTo(100);
  const lanes = engine.orders.findLast((order) => order.type === "lanes" && order.partId === kit);
  // Kit, keys and pad: the kick is the C that is written as it, on both.
  expect(lanes).toMatchObject({ lanes: { also: [{ partId: keys }, { partId: fog }] } });
  const heard = () => engine.heardFrames.length;
  workspace.parts.openAt(0);
  const before = heard();
  play(0, 200);
  goTo(300);
  expect(heard()).toBe(before + 1);
  workspace.parts.setMix(kit, { levelDb: -60 });
  goTo(400);
  // Another level of the kit is no other level of what plays along.
  const { gains } = (
    engine.orders.findLast((order) => order.type === "mix" && order.partId === keys) as never as {
      mix: { gains: Float32Array };
    }
  ).mix;
  expect(gains[2 * 36]).toBe(1);
  expect(setPart(workspace.beat, kit, { alsoPlays: undefined }).parts[0]).not.toHaveProperty("alsoPlays");
});

test("phrases are cut where a part's own run changes, not where parts are in runs of their own", () => {
  const hit = (timeMs: number, partId: number, segment: number): LookbackHit =>
    ({
      timeMs,
      partId,
      pad: 0,
      note: 36,
      velocity: 90,
      device: "d",
      beatId: "b",
      along: { run: segment },
    }) as LookbackHit;
  const together = [hit(0, 1, 5), hit(10, 2, 7), hit(500, 1, 5), hit(510, 2, 7)];
  expect(splitEchoes(together)).toHaveLength(1);
  expect(splitEchoes([...together, hit(700, 2, 8)])).toHaveLength(2);
  const { along: _, ...free } = hit(700, 1, 0);
  expect(splitEchoes([...together, free as LookbackHit])).toHaveLength(2);
});

test("strokes right after record was pressed, before the audio thread has said where it begins, are on the downbeat of their parts", () => {
  const { workspace, goTo, kit, keys, pads, keyboard } = twoDevices();
  goTo(500);
  workspace.transport.toggleRecord();
  pads([0x99, 36, 90], 500);
  keyboard([0x90, 60, 70], 501);
  expect([hitsOf(workspace, kit), hitsOf(workspace, keys)]).toEqual([[], []]);
  goTo(520);
  const ticksOf = (partId: number) =>
    hitsOf(workspace, partId).map(({ played: { ticks } }) => Math.abs(Math.round(ticks / 10)));
  expect([ticksOf(kit), ticksOf(keys)]).toEqual([[0], [0]]);
});

test("on the first hit: two hands in two parts begin together, though the audio thread has not answered yet", () => {
  const { workspace, engine, goTo, kit, keys, pads, keyboard } = twoDevices();
  workspace.setSettings({ startOnHit: true });
  goTo(500);
  engine.holdOrders();
  workspace.transport.toggleRecord();
  for (const [send, bytes, ms] of [
    [pads, [0x99, 36, 90], 600],
    [keyboard, [0x90, 60, 70], 601],
    [pads, [0x99, 38, 90], 603],
  ] as const) {
    goTo(ms);
    send(bytes, ms);
  }
  engine.holdOrders(false);
  goTo(700);
  // 120 BPM: 1.92 ticks a millisecond.
  const ticksOf = (partId: number) => hitsOf(workspace, partId).map(({ played: { ticks } }) => Math.round(100 * ticks));
  expect(ticksOf(kit)).toEqual([0, 576]);
  expect(ticksOf(keys)).toEqual([192]);
});

test("a tempo that is set while the loop runs is that of all parts from then on, also where nothing else has changed", () => {
  const { workspace, engine, goTo, pads, keyboard } = twoDevices();
  workspace.transport.toggleRecord();
  goTo(500);
  pads([0x99, 36, 90], 500);
  goTo(2500);
  keyboard([0x90, 60, 70], 2500);
  goTo(2600);
  keyboard([0x80, 60, 0], 2600);
  workspace.transport.toggleRecord();
  goTo(2 * LAP_MS);
  workspace.setTempo(150);
  const sounded = engine.heardFrames.length;
  goTo(2 * LAP_MS + 6500);
  // Two bars last 3200 ms at 150 BPM, and the two strokes are half of that apart.
  expect(engine.heardFrames.slice(sounded).map((frame) => Math.round(frame / 48 - 2 * LAP_MS))).toEqual([
    400, 2000, 3600, 5200,
  ]);
});

test("what is recorded on a muted pad of a part that is not the open one is heard as long as it is recorded", () => {
  const { workspace, engine, goTo, kit, keys, pads } = twoDevices();
  workspace.parts.open(kit);
  workspace.setPad(0, { muted: true });
  workspace.parts.open(keys);
  workspace.transport.toggleRecord();
  goTo(700);
  pads([0x99, 36, 90], 700);
  goTo(LAP_MS - 50);
  const sounded = engine.heardFrames.length;
  goTo(2 * LAP_MS - 50);
  expect(engine.heardFrames.slice(sounded).map((frame) => Math.round(frame / 48))).toEqual([LAP_MS + 700]);
});

test("a cymbal is grabbed where it was struck, whichever part is open or played by then; a channel that changes ends what is down", () => {
  const { workspace, engine, goTo, kit, keys, pads, keyboard } = twoDevices();
  goTo(10);
  pads([0x99, 49, 90], 10);
  pads([0x89, 49, 0], 20);
  workspace.devices.setProfile("Pads", { plays: "Cabin" });
  workspace.devices.setProfile("Pads", { plays: "Kit" });
  pads([0xa9, 49, 127], 300);
  expect(engine.last("choke")).toMatchObject({ partId: kit, lane: 12 });
  keyboard([0x90, 60, 70], 400);
  workspace.devices.setProfile("Keyboard", { channel: 5 });
  expect(engine.last("let-go")).toMatchObject({ partId: keys, lane: 60 });
});

test("strokes that wait for the clock belong to what was being recorded, however it ends", () => {
  for (const end of ["stop", "togglePlay", "toggleRecord", "togglePractice"] as const) {
    const { workspace, engine, goTo, kit, pads } = twoDevices();
    workspace.transport.toggleRecord();
    goTo(100);
    engine.waiting = [];
    pads([0x99, 36, 90], 110);
    pads([0x99, 38, 90], 120);
    workspace.transport[end]();
    engine.settle();
    expect([end, hitsOf(workspace, kit).length]).toEqual([end, 2]);
  }
});
