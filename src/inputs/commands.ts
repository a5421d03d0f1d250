import { GRID_TICKS, type GridName } from "@/core/time/grid";

/** The rates of note repeat in the order of their keys. */
export const REPEAT_RATES = ["1/4", "1/8", "1/8T", "1/16", "1/16T", "1/32", "1/32T", "1/64"] as const satisfies Exclude<
  GridName,
  "off"
>[];
export type RepeatRate = (typeof REPEAT_RATES)[number];

/** What a key, a pad or a button of a controller can do besides drumming. Rates and erase last as long as they are held. */
export const COMMANDS = {
  play: "Play and stop",
  record: "In and out of record",
  practice: "In and out of practice",
  click: "Click on and off",
  erase: "Erase while held",
  undo: "Undo",
  redo: "Redo",
  nextPattern: "Next empty pattern",
  nextPart: "Next part",
  tapTempo: "Tap tempo",
  mode: "Next record mode",
  ...(Object.fromEntries(REPEAT_RATES.map((rate) => [`repeat ${rate}`, `Note repeat ${rate}`])) as Record<
    `repeat ${RepeatRate}`,
    string
  >),
} as const;

export type Command = keyof typeof COMMANDS;
export const COMMAND_NAMES = Object.keys(COMMANDS) as readonly Command[];
/** Commands that go on for as long as their key is down. */
type HeldCommand = "erase" | `repeat ${RepeatRate}`;
/** Commands that are done once a key goes down. */
export type PressedCommand = Exclude<Command, HeldCommand>;

export function isPressed(command: Command): command is PressedCommand {
  return command !== "erase" && rateOf(command) === undefined;
}

/** @returns the rate that a command stands for, if it is one */
export function rateOf(command: Command): RepeatRate | undefined {
  return REPEAT_RATES.find((rate) => command === `repeat ${rate}`);
}

export function rateTicks(rate: RepeatRate): number {
  return GRID_TICKS[rate];
}

/** Carries out commands; a held one ends with `down` false. */
export interface CommandListener {
  command(command: Command, down: boolean, timeMs: number): void;
}
