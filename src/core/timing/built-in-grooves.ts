import type { Groove, GrooveGrid, GrooveLine } from "../beat/feel";
import { asTicks } from "../time/ticks";

const BAR = asTicks(3840);

/** Later by so many ticks, at so many hundredths of the velocity. */
type Line = readonly [offsetTicks: number, velocityPercent: number];

/** @param lines those of one beat, one bar or two; they are repeated until the bars are full */
function groove(
  name: string,
  description: string,
  grid: GrooveGrid,
  bars: 1 | 2,
  lines: readonly Line[],
  perBar: number,
): Groove {
  return {
    name,
    description,
    grid,
    bars,
    barTicks: BAR,
    lines: Array.from({ length: bars * perBar }, (_, index): GrooveLine => {
      const [offsetTicks, percent] = lines[index % lines.length]!;
      return { offsetTicks, velocity: percent / 100 };
    }),
  };
}

const sixteenths = (name: string, description: string, lines: readonly Line[], bars: 1 | 2 = 1) =>
  groove(name, description, "1/16", bars, lines, 16);
const eighths = (name: string, description: string, lines: readonly Line[], bars: 1 | 2 = 1) =>
  groove(name, description, "1/8", bars, lines, 8);

/** The grooves that come with the app, of our own making, named after states of the sea. */
export const BUILT_IN_GROOVES: readonly Groove[] = [
  sixteenths("Flat Calm", "Straight time; only the accents breathe, strong on the beat and light between.", [
    [0, 112],
    [0, 84],
    [0, 98],
    [0, 84],
  ]),
  sixteenths("Ripple", "A hint of swing on sixteenths, with quiet notes between.", [
    [0, 108],
    [20, 78],
    [0, 98],
    [24, 82],
  ]),
  sixteenths("Cross Sea", "A half-shuffle: sixteenths lean towards triplets without getting there.", [
    [0, 108],
    [44, 80],
    [2, 98],
    [44, 84],
  ]),
  eighths("Rolling", "A full shuffle on eighths, its short notes soft.", [
    [0, 110],
    [150, 80],
  ]),
  sixteenths("Long Swell", "Drags: the backbeat lies well behind, everything else a little.", [
    [0, 108],
    [8, 84],
    [6, 96],
    [10, 84],
    [20, 114],
    [12, 84],
    [8, 96],
    [12, 86],
  ]),
  sixteenths("Following Sea", "Pushes: the off-beats arrive early and the backbeat is on their heels.", [
    [0, 106],
    [-10, 86],
    [-14, 102],
    [-10, 86],
    [-8, 112],
    [-12, 88],
    [-16, 104],
    [-10, 90],
  ]),
  eighths(
    "Ground Swell",
    "Loose hands on eighths: two bars in which no two lines lean quite alike.",
    [
      [0, 108],
      [9, 88],
      [-5, 102],
      [12, 84],
      [4, 106],
      [-7, 90],
      [7, 100],
      [14, 86],
      [-4, 110],
      [6, 84],
      [8, 104],
      [-3, 90],
      [2, 106],
      [11, 86],
      [-6, 100],
      [5, 92],
    ],
    2,
  ),
  sixteenths(
    "Confused Sea",
    "Drunk: early kicks, late snares and sixteenths that cannot agree, over two bars.",
    [
      [0, 110],
      [34, 72],
      [-12, 98],
      [48, 80],
      [26, 114],
      [12, 70],
      [-18, 96],
      [40, 84],
      [-10, 108],
      [50, 74],
      [8, 94],
      [22, 82],
      [34, 116],
      [-6, 72],
      [14, 98],
      [54, 78],
      [-6, 108],
      [20, 76],
      [10, 96],
      [56, 80],
      [30, 112],
      [40, 70],
      [-14, 98],
      [28, 86],
      [4, 110],
      [38, 72],
      [-10, 94],
      [46, 82],
      [22, 118],
      [10, 74],
      [-16, 100],
      [36, 84],
    ],
    2,
  ),
  sixteenths("Breakers", "Samba-like: the third and fourth sixteenths hurry, and the last one calls the beat.", [
    [0, 100],
    [-8, 72],
    [-30, 84],
    [-20, 122],
  ]),
  sixteenths("Choppy", "Double-time: eighths take the accents of beats and all that lies between is short of breath.", [
    [0, 116],
    [-4, 72],
    [-6, 108],
    [-8, 76],
  ]),
  sixteenths("Five-Knot Chop", "A quintuplet feel: four sixteenths on the first, second, fourth and fifth of five.", [
    [0, 110],
    [-48, 76],
    [96, 96],
    [48, 78],
  ]),
  groove(
    "Slack Water",
    "Slow triplets that hang back, their middle notes hardly there.",
    "1/8T",
    1,
    [
      [0, 112],
      [14, 62],
      [20, 88],
    ],
    12,
  ),
];
