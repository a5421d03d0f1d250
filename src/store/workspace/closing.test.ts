import { session, takeTestTime } from "../../../tests/support/session";

takeTestTime();

test.each<[string, (of: ReturnType<typeof session>) => void]>([
  [
    "recording, repeating and erasing",
    ({ workspace, play, goTo }) => {
      workspace.transport.toggleRecord();
      play(0, 100);
      workspace.strike({ lane: 1, velocity: 90, timeMs: 150, device: "keys" });
      workspace.command("repeat 1/16", true, 170);
      workspace.command("erase", true, 200);
      workspace.strike({ lane: 2, velocity: 90, timeMs: 210, device: "keys" });
      goTo(220);
    },
  ],
  ["tapping a tempo", ({ workspace }) => [20, 420, 820].forEach((ms) => workspace.command("tapTempo", true, ms))],
])("a beat that is closed in the middle of %s leaves no timer", async (_, begin) => {
  const page = session();
  begin(page);
  expect(jest.getTimerCount()).toBeGreaterThan(0);
  await page.workspace.close();
  expect(jest.getTimerCount()).toBe(0);
});
