import { LAP_MS, passesOf, session, takeTestTime } from "../../../tests/support/session";
import { EchoPocketDatabase } from "../persistence/rows/database";
import { newDatabaseName, repositoryOf } from "../../../tests/support/open-workspace";
import { newProfile } from "@/inputs/device-profile";
import { DEFAULT_SETTINGS } from "../settings";

takeTestTime();

/** A bar of eighths that was played along with record off: it is only remembered. */
function playedAlong() {
  const made = session();
  made.workspace.transport.play();
  for (let eighth = 0; eighth < 8; eighth++) made.play(3, 250 * eighth + 5);
  return made;
}

test("an echo is heard over the running loop as it would come back, the beat is as it was, and a second press ends it", () => {
  const { workspace, engine, goTo } = playedAlong();
  const { review, recall } = workspace;
  goTo(LAP_MS + 1900);
  workspace.transport.stop();
  workspace.transport.play();
  goTo(3 * LAP_MS);
  review.open(workspace.echoes.refresh()[0]);
  expect(recall.hearing).toBe(false);
  const struck = engine.heardFrames.length;
  recall.toggleHearing();
  expect([recall.hearing, workspace.state.preview?.startedPlaying]).toEqual([true, false]);
  expect(engine.click.on).toBe(true);
  goTo(5 * LAP_MS);
  expect(engine.heardFrames.length - struck).toBeGreaterThanOrEqual(8);
  expect(passesOf(workspace)).toEqual([]);
  recall.toggleHearing();
  expect([recall.hearing, workspace.state.transport.running, workspace.state.preview]).toEqual([
    false,
    true,
    undefined,
  ]);
  const ended = engine.heardFrames.length;
  goTo(7 * LAP_MS);
  expect(engine.heardFrames.length - ended).toBeLessThanOrEqual(1);
});

test("heard with the transport stopped it starts the loop and ends with it; what can't come back is not heard", () => {
  const { workspace, goTo } = playedAlong();
  const { review, recall } = workspace;
  workspace.transport.stop();
  recall.toggleHearing();
  expect(workspace.state.preview).toBeUndefined();
  goTo(LAP_MS);
  review.open(workspace.echoes.refresh()[0]);
  recall.toggleHearing();
  expect([workspace.state.preview?.startedPlaying, workspace.state.transport.running]).toEqual([true, true]);
  // What is changed about it is heard at once.
  recall.setRecall({ quantized: true });
  expect(workspace.state.preview!.beat.parts[0]!.patterns.flatMap(({ passes }) => passes)[0]!.quantize.grid).toBe(
    "1/16",
  );
  recall.toggleHearing();
  expect([workspace.state.preview, workspace.state.transport.running]).toEqual([undefined, false]);
  expect(passesOf(workspace)).toEqual([]);
});

test("taps along with an echo say its tempo, as long as they are a row", async () => {
  const { workspace, play } = session();
  for (let eighth = 0; eighth < 16; eighth++) play(eighth % 4 === 2 ? 1 : 8, 275 * eighth);
  const { review, readings } = workspace;
  review.open(workspace.echoes.refresh()[0]);
  for (const ms of [0, 1100, 2200]) readings.tap(20_000 + ms);
  expect(workspace.state.openEcho).toMatchObject({ taps: 3, hints: {} });
  readings.tap(23_300);
  // A tap every two eighths of 275 ms twice as slow: 54.5 quarters a minute.
  expect(60 / workspace.state.openEcho!.hints.quarterSeconds!).toBeCloseTo(54.5, 0);
  readings.forgetHints();
  expect(workspace.state.openEcho).toMatchObject({ taps: 0 });
  expect(workspace.state.openEcho!.hints.quarterSeconds).toBeUndefined();
});

test("each time in record is undone by itself, in its own lap; practice and play leave nothing to undo", () => {
  const { workspace, play } = session();
  workspace.transport.toggleRecord();
  play(0, 500);
  workspace.transport.toggleRecord();
  play(1, 900);
  workspace.transport.togglePractice();
  play(2, 1200);
  workspace.transport.toggleRecord();
  play(0, 1500);
  workspace.transport.toggleRecord();
  expect(passesOf(workspace).map(({ hits }) => hits.length)).toEqual([1, 1]);
  expect(workspace.state.recordings).toEqual({});
  workspace.document.undo();
  expect(passesOf(workspace).map(({ hits }) => hits.length)).toEqual([1]);
  workspace.document.undo();
  expect(passesOf(workspace)).toEqual([]);
  expect(workspace.state.history.past).toEqual([]);
});

test("with all sixteen places taken the next pattern is refused in words, and the loop goes on", () => {
  const { workspace, goTo } = session();
  for (let pattern = 1; pattern < 16; pattern++) workspace.patterns.duplicate();
  workspace.transport.play();
  goTo(100);
  const before = workspace.beat;
  workspace.patterns.duplicate();
  expect(workspace.state.notice).toBe("All 16 pattern places are taken; delete one to make room.");
  expect([workspace.beat, workspace.state.transport.running]).toEqual([before, true]);
  workspace.patterns.choose(40);
  expect(workspace.state.notice).toBe("Place 41 is empty. 0 makes the next pattern.");
});

test("what a device was taught, the settings and the grooves are there for the next page; what is new in a profile has its standard", async () => {
  jest.useRealTimers();
  const name = newDatabaseName();
  const page = () => repositoryOf({ database: new EchoPocketDatabase(name) });
  const pads = { ...newProfile("Pads"), delayMs: 12.5, channel: 10 };
  const first = page();
  await first.writeProfile(pads);
  await first.writeProfile({ ...newProfile("Keys"), on: false });
  await first.writeSettings({ ...DEFAULT_SETTINGS, clickDb: -17 });
  const second = page();
  const { delayMs: _, ...older } = pads;
  const database = new EchoPocketDatabase(name);
  await database.profiles.put({ ...older, device: "Older" } as never);
  expect(await second.readProfiles()).toEqual({
    Pads: pads,
    Keys: { ...newProfile("Keys"), on: false },
    Older: { ...pads, device: "Older", delayMs: 0 },
  });
  expect((await second.readSettings()).clickDb).toBe(-17);
  expect(await second.readGrooves()).toEqual([]);
});
