import { REPEAT_RATES } from "@/inputs/commands";
import { PAD_KEYS } from "@/inputs/computer-keys";
import { VIEWS } from "@/store/state/workspace-state";
import { HIT_KEYS, STEP_KEYS } from "./hit-keys";
import { by, type KeyBinding } from "./key-binding";

/** The top row of letters: the rates of note repeat. */
export const RATE_KEYS = ["KeyQ", "KeyW", "KeyE", "KeyR", "KeyT", "KeyY", "KeyU", "KeyI"] as const;

const PATTERN_KEYS = Array.from({ length: 8 }, (_, index) => `Digit${index + 1}`);
/** The first eight places of the keys are the lower row, the others the row above. */
const LOWER_KEYS = PAD_KEYS.slice(0, 8);
const UPPER_KEYS = PAD_KEYS.slice(8);

export const KEYMAP: readonly KeyBinding[] = [
  ...STEP_KEYS,
  {
    id: "hearEcho",
    group: "Echoes",
    codes: ["Space"],
    shift: true,
    description: "hear the open echo",
    run: ({ state, recall }) => state.openEcho !== undefined && (recall.toggleHearing(), true),
  },
  { id: "play", group: "Play and record", codes: ["Space"], description: "play and stop", command: () => "play" },
  {
    id: "nextPart",
    group: "Play and record",
    codes: ["Enter"],
    shift: true,
    description: "go on in the next part, also while recording",
    command: () => "nextPart",
  },
  {
    id: "part",
    group: "Play and record",
    codes: PATTERN_KEYS,
    alt: true,
    shift: false,
    description: "go on in part 1 to 8",
    run: ({ parts }, index) => parts.openAt(index),
  },
  {
    id: "octave",
    group: "Pads and repeat",
    codes: ["ArrowDown", "ArrowUp"],
    alt: true,
    shift: false,
    description: "keys of a voice an octave down and up",
    run: ({ parts }, index) => parts.shiftOctave(by(index)),
  },
  {
    id: "view",
    group: "Lanes",
    codes: ["Digit9", "Digit0", "BracketLeft", "BracketRight", "Minus", "Equal"],
    alt: true,
    shown: "Alt 9 0 [ ] - =",
    description: "lanes, hits, mix, sounds, report, inputs",
    run: (workspace, index) => workspace.showView(VIEWS[index]!),
  },
  {
    id: "fold",
    group: "Lanes",
    codes: ["Home"],
    alt: true,
    description: "only the lanes that are used, or all",
    run: ({ lanes }) => lanes.toggleFold(),
  },
  {
    id: "record",
    group: "Play and record",
    codes: ["Enter"],
    shift: false,
    description: "in and out of record; with the count-in, or on the first hit",
    command: () => "record",
  },
  {
    id: "practice",
    group: "Play and record",
    codes: ["KeyP"],
    description: "in and out of practice",
    command: () => "practice",
  },
  {
    id: "mode",
    group: "Play and record",
    codes: ["KeyO"],
    description: "overdub, replace, takes",
    command: () => "mode",
  },
  { id: "click", group: "Play and record", codes: ["Slash"], description: "click on and off", command: () => "click" },
  {
    id: "takeTempo",
    group: "Play and record",
    codes: ["Period"],
    shift: true,
    description: "take the tapped tempo; Esc drops it",
    run: ({ tempoTap }) => tempoTap.take(),
  },
  { id: "tap", group: "Play and record", codes: ["Period"], description: "tap tempo", command: () => "tapTempo" },
  {
    id: "tempo",
    group: "Play and record",
    codes: ["Minus", "Equal"],
    shift: false,
    description: "tempo down and up; with Shift by a tenth",
    repeats: true,
    run: (workspace, index) => workspace.nudgeTempo(by(index)),
  },
  {
    id: "tempoFine",
    group: "Play and record",
    codes: ["Minus", "Equal"],
    shift: true,
    description: "",
    repeats: true,
    run: (workspace, index) => workspace.nudgeTempo(by(index) / 10),
  },
  {
    id: "undo",
    group: "Play and record",
    codes: ["z"],
    control: true,
    shift: false,
    description: "undo; with Shift redo",
    run: ({ document }) => document.undo(),
  },
  {
    id: "redo",
    group: "Play and record",
    codes: ["z"],
    control: true,
    shift: true,
    description: "",
    run: ({ document }) => document.redo(),
  },
  {
    id: "redoToo",
    group: "Play and record",
    codes: ["y"],
    control: true,
    description: "",
    run: ({ document }) => document.redo(),
  },
  {
    id: "lowerPads",
    group: "Pads and repeat",
    codes: LOWER_KEYS,
    description: "kick, snare, side stick, clap, toms, conga",
  },
  {
    id: "upperPads",
    group: "Pads and repeat",
    codes: UPPER_KEYS,
    description: "hats, ride, crash, tambourine, shaker, cowbell",
  },
  { id: "accent", group: "Pads and repeat", codes: [], shown: "Shift, Alt + pad", description: "accent, soft" },
  {
    id: "erase",
    group: "Pads and repeat",
    codes: ["Backspace"],
    shown: "Backspace + pad",
    description: "erase what goes by; with the transport stopped, the pad's whole part",
    command: () => "erase",
  },
  {
    id: "rates",
    group: "Pads and repeat",
    codes: RATE_KEYS,
    description: "note repeat with a pad: 1/4, 1/8, 1/8T, 1/16, 1/16T, 1/32, 1/32T, 1/64",
    command: (index) => `repeat ${REPEAT_RATES[index]!}`,
  },
  {
    id: "latch",
    group: "Pads and repeat",
    codes: ["KeyL"],
    description: "keep the rate on",
    run: ({ repeat }) => repeat.toggleLatch(),
  },
  {
    id: "laterPatterns",
    group: "Patterns and takes",
    codes: PATTERN_KEYS,
    shift: true,
    description: "",
    run: ({ patterns }, index) => patterns.choose(index + 8),
  },
  {
    id: "patterns",
    group: "Patterns and takes",
    codes: PATTERN_KEYS,
    description: "patterns 1 to 8; with Shift 9 to 16",
    run: ({ patterns }, index) => patterns.choose(index),
  },
  {
    id: "nextPattern",
    group: "Patterns and takes",
    codes: ["Digit0"],
    description: "next empty pattern, recording goes on in it",
    command: () => "nextPattern",
  },
  {
    id: "duplicate",
    group: "Patterns and takes",
    codes: ["Digit9"],
    description: "duplicate the pattern",
    run: ({ patterns }) => patterns.duplicate(),
  },
  {
    id: "swap",
    group: "Patterns and takes",
    codes: ["Backquote"],
    shift: true,
    description: "the pattern’s alternate, and back; the first time it is made",
    run: ({ patterns }) => patterns.swap(),
  },
  {
    id: "takes",
    group: "Patterns and takes",
    codes: ["BracketLeft", "BracketRight"],
    description: "step through takes",
    run: (workspace, index) => workspace.stepTake(by(index)),
  },
  {
    id: "pickUp",
    group: "Echoes",
    codes: ["End"],
    shift: true,
    description: "bring in the pick-up",
    run: ({ recorder }) => recorder.takePickUp(),
  },
  {
    id: "bringBack",
    group: "Echoes",
    codes: ["End"],
    description: "bring back what was just played, or the open echo",
    run: ({ recall }) => void recall.takeAtOnce(),
  },
  {
    id: "echoWays",
    group: "Echoes",
    codes: ["PageUp", "PageDown"],
    shift: true,
    shown: "Shift Page ↑ ↓",
    description: "its readings, or ways back",
    run: ({ recall }, index) => recall.stepRecall(by(index)),
  },
  {
    id: "echoes",
    group: "Echoes",
    codes: ["PageDown", "PageUp"],
    shown: "Page ↓ ↑",
    description: "older and newer echoes",
    run: ({ review }, index) => review.walk(index === 0 ? "older" : "newer"),
  },
  {
    id: "grooves",
    group: "Timing",
    codes: ["ArrowUp", "ArrowDown"],
    shift: false,
    description: "step through grooves",
    run: ({ timing }, index) => timing.stepGroove(by(index)),
  },
  {
    id: "grids",
    group: "Timing",
    codes: ["ArrowLeft", "ArrowRight"],
    shift: false,
    description: "step through grids: of the next hits, or of those the panel is about",
    run: ({ timing }, index) => timing.stepGrid(by(index)),
  },
  {
    id: "hearings",
    group: "Timing",
    codes: ["Semicolon", "Quote", "Backslash"],
    shift: false,
    description: "hear it played, corrected, grooved",
    run: ({ timing }, index) => timing.listenTo((["played", "corrected", "grooved"] as const)[index]!),
  },
  {
    id: "asPlayed",
    group: "Timing",
    codes: ["Backquote"],
    shift: false,
    description: "as played, and back",
    run: ({ timing }) => timing.toggleAsPlayed(),
  },
  {
    id: "advice",
    group: "Timing",
    codes: ["Quote"],
    shift: true,
    description: "take the advised grid",
    run: ({ timing }) => void timing.takeAdvice(),
  },
  {
    id: "keep",
    group: "Timing",
    codes: ["Backslash"],
    shift: true,
    description: "keep timing",
    run: ({ timing }) => timing.keep(),
  },
  {
    id: "return",
    group: "Timing",
    codes: ["Semicolon"],
    shift: true,
    description: "return",
    run: ({ timing }) => timing.return(),
  },
  {
    id: "zoom",
    group: "Lanes",
    codes: ["ArrowUp", "ArrowDown"],
    shift: true,
    description: "closer, further",
    run: ({ lanes }, index) => lanes.zoom(index === 0),
  },
  {
    id: "pan",
    group: "Lanes",
    codes: ["ArrowLeft", "ArrowRight"],
    shift: true,
    description: "along",
    run: ({ lanes }, index) => lanes.pan(by(index) / 2),
  },
  ...HIT_KEYS,
  {
    id: "follow",
    group: "Lanes",
    codes: ["Home"],
    description: "follow playback",
    run: ({ lanes }) => lanes.toggleFollow(),
  },
  {
    id: "escape",
    group: "Lanes",
    codes: ["Escape"],
    description: "leave a field, a menu, a choice, an echo",
    run: (workspace) => workspace.letGo(),
  },
];

/** @throws TypeError for a name that is not in the table */
export function bindingOf(id: string): KeyBinding {
  const binding = KEYMAP.find((one) => one.id === id);
  if (!binding) throw new TypeError(`There is no key for "${id}".`);
  return binding;
}

const NAMES: Readonly<Record<string, string>> = {
  Escape: "Esc",
  Delete: "Del",
  Insert: "Ins",
  ArrowUp: "↑",
  ArrowDown: "↓",
  ArrowLeft: "←",
  ArrowRight: "→",
  PageUp: "Page ↑",
  PageDown: "Page ↓",
};

/**
 * How the keys of a binding are written.
 * @param label what is printed on the key at a place
 * @example keysInWords(bindingOf("zoom"), usLabel) // "Shift ↑ ↓"
 */
export function keysInWords(
  { codes, shift, control, alt, shown }: KeyBinding,
  label: (code: string) => string,
): string {
  if (shown !== undefined) return shown;
  const names = codes.map((code) => NAMES[code] ?? label(code));
  const row = isRow(codes) ? `${names[0]} … ${names.at(-1)}` : names.join(" ");
  const modifiers = [...(control ? ["Ctrl"] : []), ...(alt ? ["Alt"] : []), ...(shift ? ["Shift"] : [])];
  return [...modifiers, control ? row.toUpperCase() : row].join(" ");
}

/** The same as `aria-keyshortcuts` has it (ARIA 1.2, from memory): alternatives between blanks, modifiers before a plus. */
export function keyShortcuts({ codes, shift, control, alt }: KeyBinding, label: (code: string) => string): string {
  const modifiers = [...(control ? ["Control"] : []), ...(alt ? ["Alt"] : []), ...(shift ? ["Shift"] : [])];
  return codes.map((code) => [...modifiers, isNamed(code) ? code : label(code)].join("+")).join(" ");
}

function isRow(codes: readonly string[]): boolean {
  return codes.length > 3;
}

/** It is called by its name, not by what is printed on it. */
function isNamed(code: string): boolean {
  return code in NAMES || ["Space", "Enter", "Backspace", "Home", "End"].includes(code);
}
