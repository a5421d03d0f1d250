import { hitsOf, LAP_MS, msOf, session, takeTestTime } from "../../../tests/support/session";

takeTestTime();

test("to the alternate and back in the middle of the lap: the place in it stays, and each half sounds from where it took over", async () => {
  const { workspace, engine, goTo, play } = session();
  const { patterns, transport, document } = workspace;
  transport.toggleRecord();
  // A beat each, on the kick.
  for (let beat = 0; beat < 8; beat++) play(0, beat * 500);
  transport.toggleRecord();
  goTo(LAP_MS + 1600);
  patterns.swap();
  const [original, alternate] = workspace.beat.parts[0]!.patterns;
  goTo(LAP_MS + 1610);
  expect(workspace.state.patternRef.patternId).toBe(alternate!.id);
  expect(workspace.state.strip).toBe("vary");
  // It is recorded into where it is, from the same place in the lap.
  transport.toggleRecord();
  play(3, LAP_MS + 2250);
  transport.toggleRecord();
  goTo(LAP_MS + 3300);
  patterns.swap();
  goTo(4 * LAP_MS);
  expect(workspace.state.patternRef.patternId).toBe(original!.id);
  const frames = msOf(engine.heardFrames).filter((ms) => ms >= LAP_MS);
  const beats = Array.from({ length: 24 }, (_, beat) => LAP_MS + beat * 500);
  expect(frames.filter((ms) => beats.includes(ms))).toEqual(beats);
  // The stroke as it was made, with the next block.
  expect(frames.filter((ms) => !beats.includes(ms))).toEqual([LAP_MS + 2251]);
  const clap = hitsOf(workspace, 1).at(-1)!;
  expect([clap.lane, clap.played.ticks]).toEqual([3, 2250 * 1.92]);
  expect(hitsOf(workspace)).toHaveLength(8);
  // A fill goes to the alternate, whichever is open; taken back with the alternate, playback is in the original.
  await patterns.fill("bar");
  goTo(4 * LAP_MS + 100);
  expect(workspace.state.patternRef.patternId).toBe(alternate!.id);
  expect(hitsOf(workspace)).toHaveLength(8);
  while (workspace.beat.parts[0]!.patterns.length > 1) document.undo();
  goTo(5 * LAP_MS + 100);
  expect(workspace.state.patternRef.patternId).toBe(original!.id);
  expect(engine.playing.map(({ patternId }) => patternId)).toEqual([original!.id]);
});
