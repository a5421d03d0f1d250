import fc from "fast-check";
import { seededRandom } from "@/core/random";
import { RECORD_MODES } from "@/core/record/record-stroke";
import { COMMAND_NAMES, rateOf } from "@/inputs/commands";
import {
  BEAT_MS,
  FRAMES_PER_MS,
  hitsOf,
  LAP_MS,
  msOf,
  passesOf,
  patternsOf,
  session,
  takeTestTime,
} from "../../../tests/support/session";
import {} from "../../../tests/support/player-probe";
import { TestEngine } from "../../../tests/support/test-engine";

takeTestTime();

describe("beginning and ending", () => {
  test("the first hit is exactly the downbeat, and what follows is measured from it", () => {
    const { workspace, play, goTo } = session({ startOnHit: true }, 40);
    goTo(700);
    workspace.transport.toggleRecord();
    expect(workspace.state.transport).toMatchObject({ waiting: true, running: false });
    play(0, 1234.5);
    play(1, 1234.5 + 3);
    play(1, 1234.5 + BEAT_MS + 7);
    expect(hitsOf(workspace).map(({ played: { ticks } }) => Number(ticks.toFixed(3)))).toEqual([0, 5.76, 973.44]);
    workspace.transport.stop();
    expect(workspace.state.transport.running).toBe(false);
  });

  test("waiting can be called off, and nothing has happened", () => {
    const { workspace, play } = session({ startOnHit: true });
    workspace.transport.toggleRecord();
    workspace.transport.toggleRecord();
    play(0, 500);
    expect([workspace.state.transport.running, workspace.state.transport.waiting, hitsOf(workspace)]).toEqual([
      false,
      false,
      [],
    ]);
  });

  test("stops by itself after its laps, record goes out, and the pass stays", () => {
    const { workspace, engine, play, goTo } = session({ stopAfterLaps: 2 });
    workspace.transport.toggleRecord();
    play(0, 0.1);
    goTo(3 * LAP_MS);
    expect(workspace.state.transport).toEqual({ running: false, waiting: false, writing: "off" });
    expect(msOf(engine.heardFrames)).toEqual([3, LAP_MS]);
    expect(hitsOf(workspace)).toHaveLength(1);
  });

  test("tapped: a proposal with its spread, the click answers in phase, and only taking it changes the beat", () => {
    const { workspace, engine, goTo } = session();
    [1000, 1605, 2195, 2800].forEach((ms) => {
      goTo(ms);
      workspace.command("tapTempo", true, ms);
    });
    expect(workspace.state.tapped!.bpm).toBeCloseTo(60_000 / 605, 2);
    expect(workspace.state.tapped!.spreadBpm).toBeGreaterThan(1);
    goTo(6000);
    const clicks = msOf(engine.heardFrames).filter((ms, index, all) => index === 0 || ms - all[index - 1]! > 300);
    clicks.forEach((ms, index) => expect(Math.abs(ms - (2800 + 605 * (index + 2)))).toBeLessThan(8));
    expect(workspace.beat.bpm).toBe(120);
    workspace.tempoTap.take();
    expect([workspace.beat.bpm, workspace.state.tapped]).toEqual([99.2, undefined]);
    workspace.document.undo();
    expect(workspace.beat.bpm).toBe(120);
  });

  test("tapped over the running loop, the loop tries the tempo and comes back when it is dropped", () => {
    const { workspace, engine, goTo } = session();
    workspace.transport.play();
    [500, 900, 1300].forEach((ms) => {
      goTo(ms);
      workspace.tempoTap.tap(ms);
    });
    goTo(3000);
    expect(engine.table.bpm).toBeCloseTo(150, 6);
    workspace.tempoTap.drop();
    goTo(3200);
    expect([engine.table.bpm, workspace.state.transport.running]).toEqual([120, true]);
  });
});

describe("overdub, practice, takes, replace, erase", () => {
  test("kick and snare, hats, claps over six laps: all on their lines, played times kept, each heard once a lap", () => {
    const { workspace, engine, play, goTo } = session();
    const random = seededRandom(4);
    const played: number[] = [];
    workspace.transport.toggleRecord();
    const lap = (number: number, strokes: readonly (readonly [number, number])[]) =>
      strokes.forEach(([lane, beat]) => {
        const offMs = 40 * (random() - 0.5);
        played.push((beat * BEAT_MS + offMs) * 1.92);
        play(lane, Math.max(0, number * LAP_MS + beat * BEAT_MS + offMs));
      });
    lap(0, [
      [0, 0.1],
      [1, 1],
      [0, 2],
      [1, 3],
      [0, 4],
      [1, 5],
      [0, 6],
      [1, 7],
    ]);
    lap(
      2,
      Array.from({ length: 16 }, (_, eighth) => [8, eighth / 2] as const),
    );
    lap(4, [
      [3, 1],
      [3, 3],
      [3, 5],
      [3, 7],
    ]);
    goTo(6 * LAP_MS - 100);
    const before = engine.heardFrames.length;
    goTo(7 * LAP_MS - 100);
    const inLap = engine.heardFrames.slice(before).map((frame) => frame - 6 * LAP_MS * FRAMES_PER_MS);
    const lines = hitsOf(workspace).map(
      ({ played: { ticks } }) => (Math.round(ticks / 240) * 240 * 25 + 192_000) % 192_000,
    );
    // Strokes on one line sound as one sample here, so places are compared.
    expect(inLap).toEqual([...new Set(lines)].sort((a, b) => a - b));
    const ticks = hitsOf(workspace).map(({ played: { ticks } }) => ((ticks % 7680) + 7680) % 7680);
    played.forEach((expected, index) =>
      expect(Math.abs(((expected + 7680) % 7680) - ticks[index]!)).toBeLessThan(0.1 * 1.92 + 200 * Number(index === 0)),
    );
    expect(hitsOf(workspace)).toHaveLength(28);
    expect(passesOf(workspace)).toHaveLength(1);
  });

  test("practice is heard and not written; back in, it is another pass; a lap of nothing changes nothing", () => {
    const { workspace, engine, play } = session();
    workspace.transport.toggleRecord();
    play(0, 100);
    workspace.transport.togglePractice();
    const beat = workspace.beat;
    play(1, 600);
    play(1, LAP_MS + 600);
    expect(workspace.beat).toBe(beat);
    expect(engine.hits).toEqual([0, 1, 1]);
    workspace.transport.togglePractice();
    play(2, 2 * LAP_MS + 100);
    expect(passesOf(workspace).map(({ hits }) => hits.length)).toEqual([1, 1]);
    workspace.document.undo();
    expect(passesOf(workspace).map(({ hits }) => hits.length)).toEqual([1]);
  });

  test("takes: the newest sounds, one undo a lap, and an opened workspace is in overdub", () => {
    const { workspace, play, goTo } = session();
    expect(workspace.state.mode).toBe("overdub");
    workspace.transport.setMode("takes");
    workspace.transport.toggleRecord();
    [0, 1, 2].forEach((lap) => play(lap, lap * LAP_MS + 100));
    goTo(3 * LAP_MS);
    expect(passesOf(workspace).map(({ name, muted }) => [name, muted])).toEqual([
      ["Take 1", true],
      ["Take 2", true],
      ["Take 3", false],
    ]);
    workspace.document.undo();
    expect(passesOf(workspace).map(({ muted }) => muted)).toEqual([true, false]);
    workspace.stepTake(-1);
    expect(passesOf(workspace).map(({ muted }) => muted)).toEqual([false, true]);
  });

  test("replace: the kick of the lap before goes with the first kick of this one, one undo brings it back", () => {
    const { workspace, play } = session();
    workspace.transport.setMode("replace");
    workspace.transport.toggleRecord();
    play(0, 100);
    play(8, 600);
    play(0, 2000);
    play(0, LAP_MS + 1000);
    expect(hitsOf(workspace).map(({ lane }) => lane)).toEqual([8, 0]);
    workspace.document.undo();
    expect(hitsOf(workspace).map(({ lane }) => lane)).toEqual([0, 8, 0]);
  });

  test("erase with a pad takes what is heard while both are held, silent at once, one step of undo", () => {
    const { workspace, engine, play, goTo } = session();
    workspace.transport.toggleRecord();
    [0.1, 1, 2, 3, 4, 5, 6, 7].forEach((beat) => play(0, beat * BEAT_MS));
    workspace.transport.toggleRecord();
    goTo(LAP_MS + 900);
    workspace.command("erase", true, LAP_MS + 900);
    workspace.strike({ lane: 0, velocity: 100, timeMs: LAP_MS + 900, device: "keys" });
    goTo(LAP_MS + 2600);
    workspace.release({ lane: 0, timeMs: LAP_MS + 2600, device: "keys" });
    workspace.command("erase", false, LAP_MS + 2600);
    expect(engine.hits).toHaveLength(8);
    goTo(2 * LAP_MS - 100);
    expect(hitsOf(workspace).map(({ played: { ticks } }) => Math.round(ticks / 960))).toEqual([0, 1, 6, 7]);
    const sounded = msOf(engine.heardFrames).filter((ms) => ms >= LAP_MS - 10);
    expect(sounded).toEqual([4000, 4500, 7000, 7500]);
    workspace.document.undo();
    expect(hitsOf(workspace)).toHaveLength(8);
  });

  test("a rectangle over the lanes, and a pad with the transport stopped, erase as well", () => {
    const { workspace, play } = session();
    workspace.transport.toggleRecord();
    [0, 1, 2].forEach((pad) => [1, 3, 5].forEach((beat) => play(pad, beat * BEAT_MS + pad * LAP_MS)));
    workspace.transport.stop();
    workspace.eraser.eraseRange(new Set([1, 2]), 900 as never, 3000 as never);
    expect(hitsOf(workspace).map(({ lane }) => lane)).toEqual([0, 0, 0, 1, 2]);
    workspace.command("erase", true, 20_000);
    workspace.strike({ lane: 0, velocity: 100, timeMs: 20_000, device: "keys" });
    workspace.command("erase", false, 20_100);
    expect(hitsOf(workspace).map(({ lane }) => lane)).toEqual([1, 2]);
  });
});

describe("latency", () => {
  test.each([
    [0, 0],
    [20, 20],
    [60, 60],
    [0, 60],
    [60, 0],
  ])("output %i ms, input %i ms: after calibration the same times are recorded", (outputMs, inputMs) => {
    const { workspace, goTo, play } = session({}, outputMs);
    const random = seededRandom(11);
    workspace.calibrator.start();
    const beatMs = 60_000 / 110;
    // A player who hears each click after the output's delay and whose taps arrive after the input's.
    for (let beat = 0; beat < 32; beat++) {
      const tapMs = 4 * beatMs + beat * beatMs + outputMs + inputMs + 6 * (random() - 0.5);
      if (beat % 9 !== 5) play(0, tapMs, 100, "pads");
    }
    goTo(23_000);
    const { result } = workspace.state.calibration!;
    expect(Math.abs(result!.medianMs - inputMs)).toBeLessThan(3);
    workspace.devices.setProfile("pads", { delayMs: result!.medianMs });
    workspace.calibrator.close();

    workspace.transport.toggleRecord();
    const startMs = 23_000;
    const beats = [1, 2.5, 4, 5.75, 7];
    beats.forEach((beat) => play(1, startMs + beat * BEAT_MS + outputMs + inputMs, 100, "pads"));
    hitsOf(workspace).forEach(({ played: { ticks } }, index) =>
      expect(Math.abs(ticks - beats[index]! * 960) / 1.92).toBeLessThan(5),
    );
    expect(hitsOf(workspace)).toHaveLength(beats.length);
  });
});

/** What a player does who tries things out. */
const STEPS = [
  "strike",
  "record",
  "practice",
  "stop",
  "next",
  "first",
  "double",
  "remove",
  "hear",
  "look",
  "back",
  "undo",
  "redo",
  "now",
  "lap",
] as const;

describe("whatever is done", () => {
  const action = fc.record({
    kind: fc.constantFrom("strike", "command", "mode", "erase", "region", "pattern", "stop"),
    pad: fc.integer({ min: 0, max: 15 }),
    command: fc.constantFrom(
      ...COMMAND_NAMES.filter((name) => name !== "undo" && name !== "redo" && name !== "tapTempo"),
    ),
    waitMs: fc.integer({ min: 1, max: 900 }),
    choice: fc.integer({ min: 0, max: 2 }),
  });

  test("no sequence of actions changes a pattern's length, two takes never sound together, and undo of all returns the first state", () =>
    fc.assert(
      fc.property(fc.array(action, { maxLength: 40 }), (actions) => {
        const { workspace, goTo, play } = session({ stopAfterLaps: 0 });
        const first = workspace.beat;
        let ms = 0;
        for (const { kind, pad: lane, command, waitMs, choice } of actions) {
          ms += waitMs;
          goTo(ms);
          if (kind === "strike") play(lane, ms);
          if (kind === "command") {
            workspace.command(command, true, ms);
            if (rateOf(command) && choice > 0) play(lane, ms);
            workspace.command(command, false, ms + 1);
          }
          if (kind === "mode") workspace.transport.setMode(RECORD_MODES[choice]!);
          if (kind === "erase") {
            workspace.command("erase", true, ms);
            play(lane, ms);
            workspace.command("erase", false, ms);
          }
          if (kind === "region")
            workspace.patterns.setRegion(
              choice === 0 ? undefined : { startTicks: (960 * choice) as never, lengthTicks: 1920 as never },
            );
          if (kind === "pattern") workspace.patterns.choose(choice);
          if (kind === "stop") workspace.transport.stop();
          for (const { bars, passes } of patternsOf(workspace.beat)) {
            expect(bars).toBe(2);
            const loud = passes.filter(({ take, muted }) => take !== undefined && !muted).map(({ take }) => take);
            expect(new Set(loud).size).toBe(loud.length);
          }
        }
        workspace.transport.stop();
        while (workspace.state.history.past.length > 0) workspace.document.undo();
        expect(workspace.beat).toBe(first);
      }),
      { numRuns: 60 },
    ));

  test("record writes afterwards, into the pattern that is seen and heard; and every stroke is remembered", () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...STEPS), fc.integer({ min: 1, max: 1500 })), { maxLength: 25 }),
        (steps) => {
          const { workspace, engine, goTo, play } = session({ stopAfterLaps: 0 });
          const { review, recall, patterns, transport, document } = workspace;
          const does: Record<(typeof STEPS)[number], () => void> = {
            strike: () => play(7, ms),
            record: () => transport.toggleRecord(),
            practice: () => transport.togglePractice(),
            stop: () => transport.togglePlay(),
            next: () => patterns.nextEmpty(),
            first: () => patterns.choose(0),
            double: () => patterns.duplicate(),
            remove: () => patterns.remove(),
            hear: () => recall.toggleHearing(),
            look: () => review.walk("older"),
            back: () => recall.bringBack(),
            undo: () => document.undo(),
            redo: () => document.redo(),
            now: () => workspace.setSettings({ switchAt: "now" }),
            lap: () => workspace.setSettings({ switchAt: "lap" }),
          };
          let ms = 0;
          let strokes = 0;
          for (const [step, waitMs] of steps) {
            goTo((ms += waitMs));
            does[step]();
            if (step === "strike") strokes++;
          }
          goTo((ms += 2 * LAP_MS + 100));
          const { state } = workspace;
          if (state.transport.running)
            expect(engine.table.patternId).toBe((state.preview ?? state).patternRef.patternId);
          if (state.transport.writing !== "record") transport.toggleRecord();
          play(5, (ms += 200));
          const { patternId } = workspace.state.patternRef;
          const seen = patternsOf(workspace.beat).find(({ id }) => id === patternId)!;
          expect(seen.passes.flatMap(({ hits }) => hits).filter(({ lane }) => lane === 5)).toHaveLength(1);
          expect(engine.table.patternId).toBe(patternId);
          const remembered = workspace.echoes.refresh().flatMap(({ hits }) => hits);
          expect(remembered).toHaveLength(strokes + 1);
        },
      ),
      { numRuns: 80 },
    ));
});

describe("when the sound stumbles", () => {
  test("strokes sound at once and are placed when the clock can be trusted again, in their order", () => {
    const { workspace, engine, play, goTo } = session();
    workspace.transport.toggleRecord();
    play(0, BEAT_MS);
    engine.waiting = [];
    play(1, 2 * BEAT_MS);
    play(2, 3 * BEAT_MS);
    expect(engine.hits).toEqual([0, 1, 2]);
    expect(hitsOf(workspace)).toHaveLength(1);
    goTo(3.2 * BEAT_MS);
    engine.settle();
    expect(hitsOf(workspace).map(({ lane, played: { ticks }, lengthTicks }) => [lane, ticks, lengthTicks])).toEqual([
      [0, 960, 60],
      [1, 1920, 60],
      [2, 2880, 60],
    ]);
    expect(workspace.echoes.refresh().flatMap(({ hits }) => hits.map(({ pad: lane }) => lane))).toEqual([0, 1, 2]);
  });

  test("when it ends, record ends with it, what was recorded stays, and another engine goes on", () => {
    const { workspace, engine, play } = session();
    workspace.transport.toggleRecord();
    play(0, BEAT_MS);
    engine.end();
    expect(workspace.state).toMatchObject({ sound: "failed", recordings: {}, transport: { running: false } });
    expect(hitsOf(workspace)).toHaveLength(1);
    workspace.transport.toggleRecord();
    expect(workspace.state.notice).toContain("no sound");
    const next = new TestEngine(0, 2 * BEAT_MS);
    workspace.attachEngine(next);
    expect(workspace.state.sound).toBe("ready");
    workspace.transport.play();
    next.advanceTo(2 * BEAT_MS + LAP_MS);
    expect(next.heardFrames).toHaveLength(1);
  });
});

test("two devices of one name are both let go when they are not listened to any more", () => {
  const { workspace } = session();
  const ports = ["a", "b"].map((id) => ({ id, name: "Twin", receive: (_: number[], __: number) => {} }));
  for (const port of ports)
    workspace.devices.plugged({ ...port, listen: (receive) => ((port.receive = receive), () => {}) });
  const released: number[] = [];
  jest.spyOn(workspace, "release").mockImplementation(({ lane }) => void released.push(lane));
  ports[0]!.receive([0x99, 36, 100], 100);
  ports[1]!.receive([0x99, 38, 100], 100);
  workspace.devices.setProfile("Twin", { on: false });
  expect(released).toEqual([0, 1]);
});
