import fc from "fast-check";
import { demoBeats } from "../demo/demo-beats";
import { firstPlace } from "../beat/new-beat";
import { DRUM_IDS } from "../drums";
import { seededRandom } from "../random";
import { compileEvents } from "../playback/compile-events";
import type { Ticks } from "../time/ticks";
import { bandPass, decayFactor, finish, fromDb, loudest, sineTurns } from "./dsp";
import { emptyTable, type EventTable } from "./event-table";
import { LAYER_VELOCITIES, layerFor, renderKit, VARIANTS, type Kit } from "./kit";
import { Limiter } from "./limiter";
import { MAX_VOICES, Mixer } from "./mixer";
import { Player, startTicks } from "./player";
import { renderLap } from "./render";

const RATE = 48000;
const kit = renderKit(RATE);

describe("building blocks", () => {
  test("the polynomial sine stays within 4e-6 of the true one", () => {
    for (let step = -2000; step <= 2000; step++)
      expect(Math.abs(sineTurns(step / 777) - Math.sin((2 * Math.PI * step) / 777))).toBeLessThan(4e-6);
  });
  test("a decay falls by 60 dB in its time, a band passes its centre unchanged", () => {
    expect(decayFactor(0.5, RATE) ** (0.5 * RATE)).toBeCloseTo(0.001, 5);
    const sine = Float32Array.from({ length: RATE }, (_, frame) => Math.sin((2 * Math.PI * 1000 * frame) / RATE));
    bandPass(sine, 1000, 1, RATE);
    expect(loudest(sine.subarray(RATE / 2))).toBeCloseTo(1, 3);
  });
  test("an empty voice stays silent", () => expect(loudest(finish(new Float32Array(500), 0.5, RATE))).toBe(0));
});

describe.each(DRUM_IDS.map((id, index) => [id, index] as const))("%s", (_, index) => {
  const { layers } = kit.drums[index];
  test("has its layers and variants, each with silent ends, no DC and no tail above -60 dB of its peak", () => {
    expect(layers.map((variants) => variants.length)).toEqual(LAYER_VELOCITIES.map(() => VARIANTS));
    for (const samples of layers.flat()) {
      const peak = loudest(samples);
      expect(Math.abs(samples[0]) + Math.abs(samples.at(-1)!)).toBe(0);
      expect(Math.abs(samples.reduce((sum, sample) => sum + sample, 0) / samples.length)).toBeLessThan(peak * 0.01);
      expect(loudest(samples.subarray(-Math.round(0.003 * RATE)))).toBeLessThan(peak * 0.001);
      // No click at the start: no step between two samples of more than half the peak in the first ten.
      for (let frame = 1; frame < 10; frame++)
        expect(Math.abs(samples[frame] - samples[frame - 1])).toBeLessThan(peak * 0.5);
    }
  });
  test("harder strokes are louder and of another colour; strokes of one force differ a little", () => {
    const peaks = layers.map(([samples]) => loudest(samples));
    expect(peaks).toEqual([...peaks].sort((a, b) => a - b));
    const shape = (samples: Float32Array) => {
      const peak = loudest(samples);
      return samples.slice(0, 2000).map((sample) => sample / peak);
    };
    const distance = (a: Float32Array, b: Float32Array) =>
      Math.sqrt(a.reduce((sum, x, at) => sum + (x - (b[at] ?? 0)) ** 2, 0) / a.length);
    expect(distance(shape(layers[0][0]), shape(layers[3][0]))).toBeGreaterThan(0.01);
    expect(distance(shape(layers[3][0]), shape(layers[3][1]))).toBeGreaterThan(0.005);
  });
});

test("the same kit comes out twice, and at another rate the drums last as long", () => {
  expect(renderKit(RATE).drums[1].layers[2][1]).toEqual(kit.drums[1].layers[2][1]);
  const other = renderKit(44100);
  kit.drums.forEach(({ layers }, index) => {
    expect(other.drums[index].layers[3][0].length / 44100).toBeCloseTo(layers[3][0].length / RATE, 1);
  });
});

test.each(demoBeats().map((beat) => [beat.name, beat] as const))(
  "the sum of %s peaks between -12 and -6 dBFS",
  (_, beat) => {
    const { left, right } = renderLap(compileEvents(beat, firstPlace(beat)), kit, "loop");
    const peakDb = 20 * Math.log10(Math.max(loudest(left), loudest(right)));
    expect(peakDb).toBeGreaterThan(-12);
    expect(peakDb).toBeLessThan(-6);
  },
);

/** A kit whose every sound is a single sample, so that a hit's place can be read off. */
const impulse: Kit = {
  sampleRate: RATE,
  drums: DRUM_IDS.map(() => ({
    layers: LAYER_VELOCITIES.map(() => [Float32Array.of(0.25)]),
    gainLeft: 1,
    gainRight: 1,
    chokeGroup: 0,
  })),
};

function tableOf(ticks: readonly number[], more: Partial<EventTable> = {}): EventTable {
  return {
    ...emptyTable(120, { beats: 4, unit: 4 }, 3840 as Ticks),
    ids: Int32Array.from(ticks, (_, index) => index + 1),
    ticks: Float64Array.from(ticks),
    drums: new Uint8Array(ticks.length),
    velocities: new Uint8Array(ticks.length).fill(127),
    variants: new Uint8Array(ticks.length),
    fromLaps: new Int32Array(ticks.length),
    ...more,
  };
}

/** Runs a player over blocks of 128 and returns the frames at which something sounded. */
function framesHeard(player: Player, frames: number, between?: (frame: number) => void): number[] {
  const heard: number[] = [];
  const [left, right] = [new Float32Array(128), new Float32Array(128)];
  for (let frame = 0; frame < frames; frame += 128) {
    between?.(frame);
    player.process(left, right);
    left.forEach((sample, index) => sample !== 0 && heard.push(frame + index));
  }
  return heard;
}

function running(table: EventTable, fromTicks = 0): Player {
  const player = new Player(RATE, table);
  player.setKit(impulse);
  player.start({ run: 1, fromTicks: fromTicks as Ticks, countIn: false });
  return player;
}

describe("player", () => {
  // 120 BPM at 48 kHz: 25 frames a tick, 96,000 a lap.
  test("events fall on their computed frames, lap after lap, at tempi that do not divide", () =>
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 3839 }), { minLength: 1, maxLength: 12 }),
        fc.double({ min: 150, max: 400, noNaN: true }),
        (ticks, bpm) => {
          const framesPerTick = (60 * RATE) / (bpm * 960);
          const expected = [0, 1, 2]
            .flatMap((lap) => ticks.map((tick) => Math.round((lap * 3840 + tick) * framesPerTick)))
            .sort((a, b) => a - b);
          const end = Math.floor((3 * 3840 * framesPerTick) / 128) * 128;
          const heard = framesHeard(running(tableOf(ticks, { bpm })), end);
          expect(heard).toEqual([...new Set(expected.filter((frame) => frame < end))]);
        },
      ),
      { numRuns: 25 },
    ));

  test("a hit ahead of the downbeat sounds before the first one, too", () => {
    const table = tableOf([-40, 960]);
    expect(startTicks(table, 0)).toBe(-40);
    expect(startTicks(table, 2)).toBe(-7680);
    expect(startTicks(tableOf([-900]), 0)).toBe(0);
    expect(framesHeard(running(table, -40), 100_000)).toEqual([0, 25_000, 96_000]);
  });

  test("a stroke sounds in the very next block, and a fresh hit only from its lap on", () => {
    const player = running(tableOf([960], { run: 1, fromLaps: Int32Array.of(1) }));
    const heard = framesHeard(player, 130_000, (frame) => frame === 1280 && player.hit(0, 127));
    expect(heard).toEqual([1280, 120_000]);
  });

  test("500 changes of timing in mid-lap lose and double nothing", () => {
    const lines = [0, 480, 960, 1440, 1920, 2400, 2880, 3360];
    const random = seededRandom(500);
    // Every hit moves by up to 26 ms with every change, ahead of the playhead and behind it.
    const moved = () => tableOf(lines.map((line) => line + Math.round((random() - (line === 0 ? 0 : 0.5)) * 100)));
    const laps = 70;
    const player = running(tableOf(lines));
    let changes = 0;
    const heard = framesHeard(player, laps * 96_000 - 6016, () => {
      if (random() < 0.01) {
        changes++;
        player.setTable(moved());
      }
    });
    expect(changes).toBeGreaterThan(500);
    expect(heard).toHaveLength(laps * lines.length);
    heard.forEach((frame, index) => expect(Math.abs(frame - index * 12_000)).toBeLessThan(100 * 25 + 128));
  });

  test("a new tempo keeps the musical place, a new length keeps the place in the loop", () => {
    const player = running(tableOf([0, 1920]));
    const heard = framesHeard(
      player,
      200_000,
      (frame) => frame === 24_064 && player.setTable(tableOf([0, 1920], { bpm: 240 })),
    );
    // From frame 24,064 (tick 962.56) on a tick lasts 12.5 frames.
    expect(heard.slice(0, 3)).toEqual([
      0,
      24_064 + Math.round((1920 - 962.56) * 12.5),
      24_064 + Math.round((3840 - 962.56) * 12.5),
    ]);
    const shorter = running(tableOf([0]));
    const anchors = framesHeard(
      shorter,
      192_000,
      (frame) => frame === 72_064 && shorter.setTable(tableOf([0], { lengthTicks: 1920 as Ticks })),
    );
    // Tick 2882.56 of 3840 becomes 962.56 of 1920: the next downbeat is 957.44 ticks away.
    expect(anchors[1]).toBe(72_064 + Math.round(957.44 * 25));
  });

  test("the click has an accent on beat 1, counts in even when off, and stops with the transport", () => {
    const player = new Player(RATE, tableOf([]));
    player.start({ run: 1, fromTicks: -3840 as Ticks, countIn: true });
    const [left, right] = [new Float32Array(96_000), new Float32Array(96_000)];
    player.process(left, right);
    const peaks = [0, 1, 2, 3].map((beat) => loudest(left.subarray(beat * 24_000, beat * 24_000 + 4000)));
    expect(peaks[0]).toBeCloseTo(fromDb(-10), 3);
    peaks.slice(1).forEach((peak) => expect(peak).toBeCloseTo(fromDb(-14), 3));
    player.process(left, right);
    expect(loudest(left)).toBe(0);
    player.setClick({ on: true, gain: 0.5 });
    player.process(left, right);
    expect(loudest(left)).toBeCloseTo(0.5 * fromDb(-10), 3);
    player.stop();
    player.process(left, right);
    expect(loudest(left)).toBe(0);
  });
});

describe("mixer", () => {
  const long = new Float32Array(RATE).fill(0.001);
  test("64 voices sound; the 65th fades the oldest out instead of cutting it", () => {
    const mixer = new Mixer(RATE);
    for (let voice = 0; voice < MAX_VOICES; voice++) mixer.start(long, 1, 1, 0, voice);
    expect(mixer.activeVoices()).toBe(MAX_VOICES);
    mixer.start(long, 1, 1, 0, 1000);
    expect(mixer.activeVoices()).toBe(MAX_VOICES);
    const [left, right] = [new Float32Array(2000), new Float32Array(2000)];
    mixer.addTo(left, right, 0);
    for (let frame = 1; frame < 2000; frame++) expect(Math.abs(left[frame] - left[frame - 1])).toBeLessThan(0.0011);
    expect(left[999]).toBeCloseTo(0.064, 5);
    expect(left[1999]).toBeCloseTo(0.064, 5);
  });
  test("a choke group lets only the newest ring; strokes of one moment ring together", () => {
    const mixer = new Mixer(RATE);
    mixer.start(long, 1, 1, 1, 0);
    mixer.start(long, 1, 1, 1, 0);
    mixer.start(long, 1, 1, 1, 500);
    const [left, right] = [new Float32Array(4000), new Float32Array(4000)];
    mixer.addTo(left, right, 0);
    expect(left[499]).toBeCloseTo(0.002, 6);
    expect(left[3999]).toBeCloseTo(0.001, 6);
  });
  test("far more voices than there is room for neither fail nor pile up", () => {
    const mixer = new Mixer(RATE);
    for (let voice = 0; voice < 500; voice++) mixer.start(long, 1, 1, 0, voice);
    expect(mixer.activeVoices()).toBeLessThanOrEqual(MAX_VOICES);
  });
});

test("the limiter changes no bit below its ceiling and lets nothing over it", () => {
  const quiet = Float32Array.from({ length: 500 }, (_, frame) => 0.9 * Math.sin(frame));
  const copy = quiet.slice();
  expect(new Limiter(RATE).process(copy, copy)).toBe(false);
  expect(copy).toEqual(quiet);
  const loud = quiet.map((sample) => sample * 4);
  const other = loud.slice();
  expect(new Limiter(RATE).process(loud, other)).toBe(true);
  expect(loudest(loud)).toBeLessThanOrEqual(fromDb(-0.3) + 1e-6);
});

test("layers: every velocity has one that was voiced at least as hard", () => {
  for (let velocity = 1; velocity <= 127; velocity++)
    expect(LAYER_VELOCITIES[layerFor(velocity)]).toBeGreaterThanOrEqual(velocity);
});

test("a rendered loop is exact to the sample and joins itself without a seam", () => {
  const beat = demoBeats()[2];
  const table = compileEvents(beat, firstPlace(beat));
  const { left } = renderLap(table, kit, "loop");
  // 4 bars of 7/8 at 142 BPM: 14 quarters.
  expect(left.length).toBe(Math.round((14 * 60 * RATE) / 142));
  const steps = (samples: Float32Array) => samples.slice(1).map((sample, index) => Math.abs(sample - samples[index]));
  const seam = Math.abs(left[0] - left[left.length - 1]);
  expect(seam).toBeLessThan(loudest(steps(left)));
  const { left: tail } = renderLap(table, kit, "tail");
  expect(tail.length).toBeGreaterThan(left.length);
  expect(tail.at(-1)).not.toBe(undefined);
});
