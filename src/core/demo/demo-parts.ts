import type { Scale } from "../beat/scale";
import type { VoiceId } from "../instruments";
import type { GridName } from "../time/grid";

/** A note of a score, or the notes of a chord: from which step on, for how many steps, and how hard. */
export type NoteScore = readonly [step: number, notes: readonly number[], steps: number, stroke: "g" | "x" | "X"];

/** A tonal part of a demo beat: which voice, how loud and where, and what was played, how well. */
export interface PartScore {
  readonly voiceId: VoiceId;
  readonly levelDb: number;
  readonly pan: number;
  readonly scale: Scale;
  readonly pass: string;
  readonly grid: GridName;
  readonly spreadMs: number;
  readonly lateMs: number;
  readonly notes: readonly NoteScore[];
}

/** A figure, and the same one moved on by so many steps and semitones. */
function again(notes: readonly NoteScore[], steps: number, semitones: number): readonly NoteScore[] {
  return notes.map(([step, pitches, long, stroke]) => [
    step + steps,
    pitches.map((note) => note + semitones),
    long,
    stroke,
  ]);
}

const HARBOUR_BASS: readonly NoteScore[] = [
  [0, [36], 3, "X"],
  [3, [36], 2, "x"],
  [8, [43], 2, "x"],
  [11, [39], 2, "g"],
  [14, [34], 2, "x"],
];
const WALK: readonly NoteScore[] = [
  [0, [41], 3, "X"],
  [3, [45], 3, "x"],
  [6, [48], 3, "x"],
  [9, [50], 2, "x"],
];
const SKIFF: readonly NoteScore[] = [
  [2, [69, 72], 1, "g"],
  [5, [69, 72], 1, "x"],
  [11, [67, 74], 1, "x"],
];
const TIDE_BASS: readonly NoteScore[] = [
  [0, [38], 3, "X"],
  [4, [38], 2, "x"],
  [8, [45], 3, "x"],
  [12, [41], 2, "g"],
];
const RIPPLE: readonly NoteScore[] = [62, 69, 74, 65, 69, 77, 74].map((note, eighth) => [
  2 * eighth,
  [note],
  2,
  eighth === 0 ? "X" : "g",
]);
const LANTERN_BASS: readonly NoteScore[] = [
  [0, [40], 2, "X"],
  [6, [40], 1, "x"],
  [8, [43], 2, "x"],
  [12, [45], 3, "x"],
];

const PLAYED = { grid: "1/16", spreadMs: 8, lateMs: 3 } as const;

/** What plays beside the kit in the demo beats, by the beat's id. */
export const DEMO_PARTS: Readonly<Record<string, readonly PartScore[]>> = {
  "slow-harbour": [
    {
      ...PLAYED,
      voiceId: "keel",
      levelDb: 1,
      pan: 0,
      scale: { root: 0, name: "minor" },
      pass: "Low water",
      notes: [...HARBOUR_BASS, ...again(HARBOUR_BASS.slice(0, 3), 16, -2), [27, [43], 4, "x"]],
    },
    {
      ...PLAYED,
      voiceId: "cabin",
      levelDb: -7,
      pan: 0.25,
      scale: { root: 0, name: "minor", chords: "sevenths" },
      pass: "Lamps",
      notes: [
        [0, [60, 63, 67, 70], 6, "x"],
        [10, [60, 63, 67], 2, "g"],
        [16, [58, 62, 65, 69], 6, "x"],
        [26, [55, 58, 62], 3, "g"],
      ],
    },
  ],
  "gangway-shuffle": [
    {
      ...PLAYED,
      grid: "1/8T",
      voiceId: "winch",
      levelDb: -5,
      pan: 0,
      scale: { root: 5, name: "mixolydian" },
      pass: "Walk",
      notes: [...WALK, ...again(WALK.slice(0, 3), 12, 5), [21, [48], 2, "x"]],
    },
    {
      ...PLAYED,
      grid: "1/8T",
      voiceId: "buoy",
      levelDb: -4,
      pan: -0.3,
      scale: { root: 5, name: "mixolydian" },
      pass: "Gulls",
      notes: [...SKIFF, ...again(SKIFF, 12, 1)],
    },
  ],
  "tide-table": [
    {
      ...PLAYED,
      voiceId: "keel",
      levelDb: -1,
      pan: 0,
      scale: { root: 2, name: "dorian" },
      pass: "Ground",
      notes: [0, 14, 28, 42].flatMap((step, bar) => again(TIDE_BASS, step, [0, 0, -2, 3][bar]!)),
    },
    {
      ...PLAYED,
      voiceId: "rigging",
      levelDb: -5,
      pan: 0.35,
      scale: { root: 2, name: "dorian" },
      pass: "Ripples",
      notes: [0, 14, 28, 42].flatMap((step, bar) => again(RIPPLE, step, [0, 0, -2, 3][bar]!)),
    },
  ],
  "lantern-room": [
    {
      ...PLAYED,
      voiceId: "winch",
      levelDb: -6,
      pan: 0,
      scale: { root: 4, name: "minor" },
      pass: "Pass 1",
      notes: [...LANTERN_BASS, ...again(LANTERN_BASS, 16, -4)],
    },
    {
      ...PLAYED,
      voiceId: "fog",
      levelDb: -4,
      pan: 0,
      scale: { root: 4, name: "minor" },
      pass: "Pass 1",
      notes: [
        [0, [52, 59, 64, 67], 14, "x"],
        [16, [48, 55, 64, 67], 14, "x"],
      ],
    },
  ],
};
