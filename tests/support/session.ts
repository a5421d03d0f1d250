import { renderSound } from "@/core/sound/kits/render-sounds";
import "fake-indexeddb/auto";
import type { Beat } from "@/core/beat/beat";
import { newBeat } from "@/core/beat/new-beat";
import { findReadings } from "@/core/recover/readings/readings";
import type { Repository } from "@/store/persistence/repository";
import { DEFAULT_SETTINGS, type Settings } from "@/store/settings";
import { Workspace } from "@/store/workspace/workspace";
import { newRepository } from "./open-workspace";
import { TestEngine } from "./test-engine";

// 120 BPM: a beat is 500 ms, a lap of two bars 4 s, and a tick 25 frames.
export const BEAT_MS = 500;
export const LAP_MS = 4000;
export const FRAMES_PER_MS = 48;

/** What a page before this one left, and when it went away. */
export interface PageBefore {
  readonly beat: Beat;
  readonly repository: Repository;
  readonly atMs: number;
}

/** A workspace over the real player; the page's clock and the audio clock are the test's. */
export function session(settings: Partial<Settings> = {}, outputLatencyMs = 0, before?: PageBefore) {
  const startMs = before?.atMs ?? 0;
  const clock = jest.spyOn(performance, "now").mockReturnValue(startMs);
  const repository = before?.repository ?? newRepository();
  const workspace = new Workspace({
    beat: before?.beat ?? newBeat({ id: "b", name: "B", bpm: 120 }),
    findReadings: async (...asked) => findReadings(...asked),
    render: async () => undefined,
    derive: async (id, { sampleRate, sounds }) => renderSound(id, sampleRate, {}, sounds),
    settings: { ...DEFAULT_SETTINGS, countInBars: 0, clickOn: false, ...settings },
    repository,
  });
  const engine = new TestEngine(outputLatencyMs, startMs, "late");
  workspace.attachEngine(engine);
  /** Goes on to a moment: first the page's timers, then the sound up to it. */
  const goTo = (ms: number) => {
    for (let at = clock.getMockImplementation()?.() ?? performance.now(); at < ms;) {
      at = Math.min(ms, at + 10);
      clock.mockReturnValue(at);
      engine.advanceTo(at);
      jest.advanceTimersByTime(10);
    }
  };
  const play = (lane: number, ms: number, velocity = 100, device = "keys") => {
    goTo(ms);
    workspace.strike({ lane, velocity, timeMs: ms, device });
    workspace.release({ lane, timeMs: ms + 1, device });
  };
  return { workspace, engine, repository, goTo, play };
}

export const patternsOf = (beat: Beat) => beat.parts[0]!.patterns;
export const passesOf = ({ beat }: Workspace, pattern = 0) => patternsOf(beat)[pattern]!.passes;
export const hitsOf = (workspace: Workspace, pattern = 0) => passesOf(workspace, pattern).flatMap(({ hits }) => hits);
export const msOf = (frames: readonly number[]) => frames.map((frame) => Math.round(frame / FRAMES_PER_MS));

/** Every test has the page's clock and timers in its hands. */
export function takeTestTime(): void {
  beforeEach(() => jest.useFakeTimers({ doNotFake: ["performance", "queueMicrotask", "nextTick", "setImmediate"] }));
  afterEach(() => {
    jest.restoreAllMocks();
    jest.useRealTimers();
  });
}
