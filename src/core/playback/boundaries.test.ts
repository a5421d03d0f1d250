import fc from "fast-check";
import { framesHeard, impulse, KIT_LANES, RATE, withSounds } from "../../../tests/support/player-probe";
import type { Beat, PatternRef } from "../beat/beat";
import type { Groove } from "../beat/feel";
import { addHits, addPass, setFeel } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { addPattern } from "../beat/edits/pattern-edit";
import { seededRandom } from "../random";
import { Player, startTicks } from "../sound/player/player";
import type { QueuedChange } from "../sound/player/track";
import { collect, lapStream, type RenderMode } from "../sound/player/render";
import type { LoopSpan } from "../time/loop-span";
import type { Ticks } from "../time/ticks";
import type { TransportAnchor } from "../time/transport-anchor";
import { compileEvents } from "./compile-events";

// 120 BPM at 48 kHz: a tick is 25 frames, a bar 96,000.
const TICK = 25;
const BAR = 3840;
const PUSH = 36;
const LAST_FRAME = 12 * BAR * TICK;

/** Where a hit sounds in its pattern, and the place whose bar it belongs to. */
interface Scored {
  readonly sounds: number;
  readonly belongs: number;
}

const lines = Array.from({ length: 8 }, (_, line) => ({ offsetTicks: line === 0 ? -PUSH : 0, velocity: 1 }));
const groove: Groove = { name: "Push", description: "", grid: "1/8", bars: 1, barTicks: BAR as Ticks, lines };

/** Two bars whose downbeats are pushed, with hits on lines and, without a grid, one ahead of the pattern's downbeat. */
function pushed(beat: Beat, patternRef: PatternRef, random: () => number): { beat: Beat; scores: readonly Scored[] } {
  const grooved = setFeel(beat, patternRef, { groove: { groove, timing: 1, velocity: 0 } });
  const quarters = Array.from({ length: 8 }, (_, quarter) => quarter * 960).filter(() => random() < 0.7);
  const early = random() < 0.6 ? [-50 - Math.floor(random() * 30)] : [];
  const pass = (from: Beat, grid: "1/4" | "off", lane: number, played: readonly number[]) => {
    const added = addPass(from, patternRef, { name: grid, muted: false, quantize: { grid, strength: 1, reach: 1 } });
    const hits = played.map((at) => ({
      lane,
      played: { ticks: at as Ticks, velocity: 99 },
      lengthTicks: 60 as Ticks,
    }));
    return addHits(added.beat, patternRef, added.passId, hits);
  };
  const scores = [
    ...quarters.map((line) => ({ sounds: line % BAR === 0 ? line - PUSH : line, belongs: line })),
    // The push fades in over the eighth before the line.
    ...early.map((at) => ({ sounds: at - PUSH * (1 + at / 480), belongs: 0 })),
  ];
  return { beat: pass(pass(grooved, "1/4", 0, quarters), "off", 1, early), scores };
}

const SPANS = [
  [0, 2 * BAR],
  [0, BAR],
  [BAR, BAR],
].map(([startTicks, lengthTicks]): LoopSpan => ({
  startTicks: startTicks as Ticks,
  lengthTicks: lengthTicks as Ticks,
}));

/** A stretch of transport in one pattern. */
interface Played {
  readonly scores: readonly Scored[];
  readonly span: LoopSpan;
  readonly fromFrame: number;
  readonly endTicks: number;
}

/** The frames at which a stretch sounds: every lap that begins has what belongs to it before its end, and nothing else. */
function framesOf({ scores, span, fromFrame, endTicks }: Played): number[] {
  const frames: number[] = [];
  for (
    let lap = 0;
    lap * span.lengthTicks < endTicks && fromFrame + lap * span.lengthTicks * TICK < LAST_FRAME;
    lap++
  ) {
    for (const { sounds, belongs } of scores) {
      const inSpan = belongs - span.startTicks;
      if (inSpan < 0 || inSpan >= span.lengthTicks || lap * span.lengthTicks + inSpan >= endTicks) continue;
      frames.push(Math.round(fromFrame + (lap * span.lengthTicks + sounds - span.startTicks) * TICK));
    }
  }
  return frames;
}

test("pushed hits go with the lap they belong to: over changes of pattern, regions and the last lap, to the sample", () =>
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 1e9 }), fc.constantFrom(2, 3, 5, Infinity), (seed, laps) => {
      const random = seededRandom(seed);
      const first = newBeat({ id: "b", name: "B", bpm: 120 });
      const one = firstPlace(first);
      const made = addPattern(first, one);
      const a = pushed(made.beat, one, random);
      const b = pushed(a.beat, made.patternRef, random);
      const beat = b.beat;
      const patterns = [
        { patternRef: one, scores: a.scores },
        { patternRef: made.patternRef, scores: b.scores },
      ].map((pattern) => ({ ...pattern, span: SPANS[Math.floor(random() * 3)]! }));
      const tables = patterns.map(({ patternRef, span }) => compileEvents(beat, patternRef, { span }));

      const told: QueuedChange[] = [];
      const anchors: TransportAnchor[] = [];
      const player = new Player(RATE, tables[0]!, {
        anchor: (anchor) => void anchors.push(anchor),
        queued: (change) => void told.push(change),
        ended() {},
        repeated() {},
      });
      withSounds(player);
      const fromTicks = startTicks([tables[0]!], 0);
      player.start({ segment: 1, fromTicks, countIn: false, laps });
      // Two changes, called up somewhere in the middle of a bar.
      const asked = [1, 4].map((bar) => (bar + Math.floor(random() * 2) + 0.15 + 0.7 * random()) * BAR * TICK);
      let segment = 1;
      const heard = framesHeard(player, LAST_FRAME, (frame) => {
        if (!(frame > asked[0]!) || !player.running) return;
        asked.shift();
        player.queueTable(tables[segment % 2]!, ++segment, random() < 0.5 ? "lap" : "bar");
      });

      const stretches: Played[] = [];
      let fromFrame = -fromTicks * TICK;
      let left = laps;
      for (let now = 1; ; now++) {
        const { scores, span } = patterns[(now + 1) % 2]!;
        const change = told.find(({ inSegment }) => inSegment === now);
        const stop = left * span.lengthTicks;
        const endTicks = Math.min(stop, change?.atTicks ?? Infinity);
        stretches.push({ scores, span, fromFrame, endTicks });
        if (!change || change.atTicks >= stop) break;
        fromFrame += change.atTicks * TICK;
        left = Math.max(1, left - Math.ceil(change.atTicks / span.lengthTicks));
        // What was told is what happened.
        expect(anchors.find((anchor) => anchor.segment === change.segment)?.frame).toBeCloseTo(fromFrame, 6);
      }
      const within = (frames: readonly number[]) => frames.filter((frame) => frame < LAST_FRAME - 2);
      const expected = within(stretches.flatMap(framesOf)).sort((x, y) => x - y);
      expect(within(heard)).toHaveLength(new Set(expected).size);
      within(heard).forEach((frame) => expect(expected.some((one) => Math.abs(one - frame) <= 1)).toBe(true));
    }),
    { numRuns: 120 },
  ));

test("who calls a pattern up when its lead has begun still has its first hit, as soon as can be", () => {
  const first = newBeat({ id: "b", name: "B", bpm: 120 });
  const one = firstPlace(first);
  const made = addPattern(first, one);
  const { beat } = pushed(made.beat, made.patternRef, () => 0);
  const player = new Player(RATE, compileEvents(beat, one));
  withSounds(player);
  player.start({ segment: 1, fromTicks: 0 as Ticks, countIn: false });
  const boundary = 2 * BAR * TICK;
  const late = boundary - 10 * TICK;
  const frames = framesHeard(player, boundary + 1000, (frame) => {
    if (frame >= late && frame < late + 128) player.queueTable(compileEvents(beat, made.patternRef), 2, "lap");
  });
  const block = Math.ceil(late / 128) * 128;
  // Both the pushed downbeat and the one ahead of it fall on the block.
  expect(frames).toEqual([block]);
});

test("a file with its tail begins with what is pushed ahead of the downbeat and has each hit once; a loop has it at its end", () => {
  const first = newBeat({ id: "b", name: "B", bpm: 120 });
  const patternRef = firstPlace(first);
  const { beat } = pushed(first, patternRef, () => 0.65);
  const soundsOf = (mode: RenderMode) => {
    const { left } = collect(lapStream([{ table: compileEvents(beat, patternRef), lanes: KIT_LANES }], impulse, mode));
    return [...left.keys()].filter((frame) => left[frame] !== 0);
  };
  const quarters = Array.from({ length: 8 }, (_, quarter) => quarter * 960 - (quarter % 4 === 0 ? PUSH : 0));
  expect(soundsOf("tail")).toEqual(quarters.map((ticks) => (ticks + PUSH) * TICK));
  expect(soundsOf("loop")).toEqual([...quarters.slice(1), 2 * BAR - PUSH].map((ticks) => ticks * TICK));
});
