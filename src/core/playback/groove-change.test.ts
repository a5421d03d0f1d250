import { bankOf, RATE, withSounds } from "../../../tests/support/player-probe";
import { addHits, addPass, setFeel } from "../beat/edit";
import type { Feel } from "../beat/feel";
import { firstPlace, newBeat } from "../beat/new-beat";
import { DRUM_IDS } from "../drums";
import { seededRandom } from "../random";
import { Player } from "../sound/player/player";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { BUILT_IN_GROOVES } from "../timing/built-in-grooves";
import { compileEvents } from "./compile-events";

const BLOCK = 128;
/** A bar of 4/4 at 240 BPM lasts a second. */
const LAP_FRAMES = RATE;
const CHANGES = 500;
const CHANGES_A_LAP = 5;

/** Each drum is one sample of half the size of the one before, so that a sum says which drums are in it. */
const bits = bankOf((drum) => Float32Array.of(2 ** -(drum + 2)));

test("500 changes of swing and groove at any moment of a lap: no hit lost, none doubled, each heard at once", () => {
  const random = seededRandom(4);
  const empty = newBeat({ id: "g", name: "G", bpm: 240 as Bpm, bars: 1 });
  const patternRef = firstPlace(empty);
  const added = addPass(empty, patternRef, {
    name: "P",
    muted: false,
    quantize: { grid: "1/16", strength: 1, reach: 1 },
  });
  const hits = DRUM_IDS.map((_, pad) => ({
    lane: pad,
    played: { ticks: (pad * 240 + 12) as Ticks, velocity: 127 },
    lengthTicks: 60 as Ticks,
  }));
  const beat = addHits(added.beat, patternRef, added.passId, hits);
  const anyFeel = (): Feel => ({
    swing: { ratio: 0.5 + 0.25 * random(), unit: random() < 0.5 ? "1/8" : "1/16" },
    groove: { groove: BUILT_IN_GROOVES[Math.floor(random() * 12)]!, timing: random(), velocity: 0 },
    padAmounts: { [Math.floor(16 * random())]: random() },
  });

  const player = new Player(RATE, compileEvents(beat, patternRef));
  withSounds(player, bits);
  player.start({ segment: 1, fromTicks: 0 as Ticks, countIn: false });
  const heard = DRUM_IDS.map((): number[] => []);
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  const laps = CHANGES / CHANGES_A_LAP;
  let changes = 0;
  let level = 0;
  for (let frame = 0; frame < (laps + 0.5) * LAP_FRAMES; frame += BLOCK) {
    if (changes < CHANGES && random() < (CHANGES_A_LAP * BLOCK) / LAP_FRAMES) {
      player.setTables([compileEvents(setFeel(beat, patternRef, anyFeel()), patternRef)]);
      changes++;
    }
    player.process(left, right);
    for (let index = 0; index < BLOCK; index++) {
      if (left[index] === 0) continue;
      // The first sound of all is the kick alone: it tells what one drum comes out at.
      level ||= left[index]! * 4;
      const sum = Math.round((left[index]! / level) * 2 ** 17);
      DRUM_IDS.forEach((_, drum) => {
        const bit = 2 ** (15 - drum);
        if (Math.floor(sum / bit) % 2 === 1) heard[drum]!.push(frame + index);
      });
    }
  }
  expect(changes).toBeGreaterThan(CHANGES * 0.9);
  heard.forEach((frames, drum) => {
    // In each lap once, and the first half of the last one: a downbeat that is pulled ahead may come at its end as well.
    const line = drum * 240;
    const last = line < 1920 ? 1 : 0;
    expect([laps + last, laps + last + (line === 0 || line === 1920 ? 1 : 0)]).toContain(frames.length);
    const gaps = frames.slice(1).map((frame, index) => frame - frames[index]!);
    // Nothing moves by more than a sixteenth of a bar and a bit; a doubled hit would lie much nearer, a lost one further.
    expect(Math.min(...gaps)).toBeGreaterThan(LAP_FRAMES * 0.85);
    expect(Math.max(...gaps)).toBeLessThan(LAP_FRAMES * 1.15);
  });
});
