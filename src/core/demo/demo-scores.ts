import type { DrumId } from "../drums";
import type { GridName } from "../time/grid";
import type { Meter } from "../time/meter";

/** One pass of a demo beat: what was played, on which steps, and how well. */
export interface PassScore {
  readonly name: string;
  readonly grid: GridName;
  readonly strength: number;
  /** Spread of the playing around its line, and how far the player sits behind it (negative: ahead). */
  readonly spreadMs: number;
  readonly lateMs: number;
  /** A letter a step: `.` nothing, `g` ghost, `x` stroke, `X` accent. Bars are divided by `|`. */
  readonly lanes: Partial<Record<DrumId, string>>;
}

export interface BeatScore {
  readonly id: string;
  readonly name: string;
  readonly bpm: number;
  readonly meter: Meter;
  readonly bars: number;
  /** The written step in ticks. */
  readonly stepTicks: number;
  /** Where the second of two steps is played: 50 is straight. */
  readonly swingPercent: number;
  readonly inputGrid: GridName;
  readonly passes: readonly PassScore[];
}

const FOUR_FOUR: Meter = { beats: 4, unit: 4 };

/** The evening crossing of a night ferry, all of it invented. */
export const DEMO_SCORES: readonly BeatScore[] = [
  {
    id: "slow-harbour",
    name: "Slow Harbour",
    bpm: 76,
    meter: FOUR_FOUR,
    bars: 2,
    stepTicks: 240,
    swingPercent: 59,
    inputGrid: "1/16",
    passes: [
      {
        name: "Kick and snare",
        grid: "1/16",
        strength: 0.35,
        spreadMs: 7,
        lateMs: 6,
        lanes: {
          kick: "X..x...x..X.....|X..x......Xx..x.",
          snare: "....X..g.g..X..g|....X..g.g..X.g.",
        },
      },
      {
        name: "Hats",
        grid: "off",
        strength: 1,
        spreadMs: 6,
        lateMs: -3,
        lanes: {
          closedHat: "X.xgx.xgX.xgx.x.|X.xgx.xgX.xgx.xg",
          openHat: "..............x.|................",
        },
      },
      {
        name: "Deck rail",
        grid: "1/16",
        strength: 0.5,
        spreadMs: 9,
        lateMs: 8,
        lanes: {
          shaker: "g.x.g.x.g.x.g.x.|g.x.g.x.g.x.g.x.",
          conga: "......x.......xx|......x....x....",
          sideStick: "................|..............x.",
        },
      },
    ],
  },
  {
    id: "gangway-shuffle",
    name: "Gangway Shuffle",
    bpm: 132,
    meter: FOUR_FOUR,
    bars: 2,
    stepTicks: 320,
    swingPercent: 50,
    inputGrid: "1/8T",
    passes: [
      {
        name: "Feet and backbeat",
        grid: "1/8T",
        strength: 1,
        spreadMs: 9,
        lateMs: -2,
        lanes: {
          kick: "X.....x.x...|X....xx..x.x",
          snare: "...X.....X..|...X.....X.g",
        },
      },
      {
        name: "Ride",
        grid: "1/8T",
        strength: 0.7,
        spreadMs: 8,
        lateMs: 3,
        lanes: { ride: "X.xX.xX.xX.x|X.xX.xX.xX.x", pedalHat: "...x.....x..|...x.....x.." },
      },
      {
        name: "Ghosts",
        grid: "1/8T",
        strength: 1,
        spreadMs: 11,
        lateMs: 4,
        lanes: { snare: "..g..g.....g|..g..g..g...", tambourine: "...x.....x..|...x.....x.x" },
      },
      {
        name: "Landing",
        grid: "1/8T",
        strength: 1,
        spreadMs: 8,
        lateMs: 0,
        lanes: {
          crash: "X...........|............",
          highTom: "............|........x...",
          lowTom: "............|..........x.",
        },
      },
    ],
  },
  {
    id: "tide-table",
    name: "Tide Table",
    bpm: 142,
    meter: { beats: 7, unit: 8 },
    bars: 4,
    stepTicks: 240,
    swingPercent: 50,
    inputGrid: "1/16",
    passes: [
      {
        name: "Two, two, three",
        grid: "1/16",
        strength: 1,
        spreadMs: 8,
        lateMs: 1,
        lanes: {
          kick: "X.......X.....|X.....x.X.....|X.......X.....|X.....x.X...x.",
          snare: "....X.......X.|....X.......X.|....X.......X.|....X.....x.Xg",
        },
      },
      {
        name: "Sticks",
        grid: "1/16",
        strength: 0.85,
        spreadMs: 6,
        lateMs: -4,
        lanes: {
          closedHat: "X.x.X.x.X.x.x.|X.x.X.x.X.x.x.|X.x.X.x.X.x.x.|X.x.X.x.X.xgxg",
          cowbell: "X...x...X.....|X...x...X.....|X...x...X.....|X...x...X.....",
        },
      },
      {
        name: "Swell",
        grid: "1/16",
        strength: 1,
        spreadMs: 10,
        lateMs: 3,
        lanes: {
          crash: "X.............|..............|..............|..............",
          shaker: "..g...g...g.g.|..g...g...g.g.|..g...g...g.g.|..g...g...g.g.",
          midTom: "..............|..............|..............|..........x...",
          lowTom: "..............|..............|..............|............xX",
        },
      },
    ],
  },
  {
    id: "lantern-room",
    name: "Lantern Room",
    bpm: 104,
    meter: FOUR_FOUR,
    bars: 2,
    stepTicks: 240,
    swingPercent: 50,
    inputGrid: "1/16",
    passes: [
      {
        name: "Pass 1",
        grid: "1/16",
        strength: 1,
        spreadMs: 12,
        lateMs: -4,
        lanes: {
          kick: "X.....x...x.....|X.....x...x..x..",
          snare: "....X.......X...|....X.......X..g",
        },
      },
      {
        name: "Pass 2",
        grid: "1/16",
        strength: 1,
        spreadMs: 10,
        lateMs: 5,
        lanes: { closedHat: "X.x.X.x.X.x.X.x.|X.x.X.x.X......." },
      },
    ],
  },
];

const LOOSE = { grid: "off", strength: 1, spreadMs: 9 } as const;
const TAMBOURINE = { tambourine: "x.x.X.x.x.x.X.x.|x.x.X.x.x.x.X.xx", clap: "....x.......x...|....x.......x.x." };

/** What was played beside "Lantern Room" and never recorded. */
export const DEMO_ECHOES: readonly BeatScore[] = [
  {
    id: "lantern-echo-1",
    name: "Before the loop ran",
    bpm: 92,
    meter: FOUR_FOUR,
    bars: 4,
    stepTicks: 240,
    swingPercent: 57,
    inputGrid: "1/16",
    passes: [
      {
        ...LOOSE,
        name: "Free",
        lateMs: 0,
        lanes: {
          kick: "X.....x.x.......|X.....x.x..x....|X.....x.x.......|X..x..x.x.......",
          snare: "....X..g....X...|....X.......X..g|....X..g....X...|....X.......X.XX",
          closedHat: "x.xxX.x.x.xxX.x.|x.xxX.x.x.xxX.x.|x.xxX.x.x.xxX.x.|x.xxX.x.x.xx....",
        },
      },
    ],
  },
  {
    id: "lantern-echo-2",
    name: "Over the loop",
    bpm: 104,
    meter: FOUR_FOUR,
    bars: 2,
    stepTicks: 240,
    swingPercent: 50,
    inputGrid: "1/16",
    passes: [
      { ...LOOSE, name: "First lap", lateMs: 8, lanes: TAMBOURINE },
      { ...LOOSE, name: "Second lap", lateMs: 4, lanes: TAMBOURINE },
      { ...LOOSE, name: "Third lap", lateMs: 5, lanes: TAMBOURINE },
    ],
  },
  {
    id: "lantern-echo-3",
    name: "After it",
    bpm: 121,
    meter: FOUR_FOUR,
    bars: 2,
    stepTicks: 320,
    swingPercent: 50,
    inputGrid: "1/8T",
    passes: [
      {
        ...LOOSE,
        name: "Free",
        lateMs: 0,
        lanes: {
          kick: "X....x......|X....x.....x",
          snare: "...X.....X..|...X.....X..",
          ride: "X.xX.xX.xX.x|X.xX.xX.xX.x",
          midTom: "............|..........x.",
        },
      },
    ],
  },
];
