// Also compiled by AssemblyScript, so constants only.

/** Frames that are mixed at a time (Web Audio: a render quantum). */
export const BLOCK_FRAMES = 128;
/** Voices that may sound at once, those that fade out included; each has one bus at most. */
export const VOICE_SLOTS = 96;
/** Samples around a block that goes by up to eight times as fast, and those beside them. */
export const WINDOW_SAMPLES = 8 * BLOCK_FRAMES + 8;

/** Places of arguments and results in `numbers`, float64. See Kernel.mix and Kernel.interpolate. */
export const DECAYED = 0;
export const DECAY = 1;
export const FADE_START = 2;
export const FADE_FRAMES = 3;
export const HURRY_START = 4;
export const HURRY_FRAMES = 5;
export const LEVEL_LEFT = 6;
export const LEVEL_RIGHT = 7;
export const TO_LEFT = 8;
export const TO_RIGHT = 9;
export const SENT_BEFORE = 10;
export const SENT_NOW = 11;
export const PEAK = 12;
export const SINCE = 13;
export const RATE = 14;
export const LOOP_START = 15;
export const TURNED = 16;
export const NUMBERS_LENGTH = 32;

/** Byte offsets in the kernel's memory. */
export const NUMBERS = 0;
/** A voice in a block, left and right, float64. */
export const SCRATCH_LEFT = NUMBERS + 8 * NUMBERS_LENGTH;
export const SCRATCH_RIGHT = SCRATCH_LEFT + 8 * BLOCK_FRAMES;
/** Samples from elsewhere that a voice is read from, left and right, float32. */
export const WINDOW_LEFT = SCRATCH_RIGHT + 8 * BLOCK_FRAMES;
export const WINDOW_RIGHT = WINDOW_LEFT + 4 * WINDOW_SAMPLES;
/** Input of the room, and output of the mixer, left and right, float32. */
export const ROOM_LEFT = WINDOW_RIGHT + 4 * WINDOW_SAMPLES;
export const ROOM_RIGHT = ROOM_LEFT + 4 * BLOCK_FRAMES;
export const OUT_LEFT = ROOM_RIGHT + 4 * BLOCK_FRAMES;
export const OUT_RIGHT = OUT_LEFT + 4 * BLOCK_FRAMES;
/** Left and right of each bus, one after the other, float32. */
export const BUSES = OUT_RIGHT + 4 * BLOCK_FRAMES;
export const BUS_BYTES = 8 * BLOCK_FRAMES;

/** The room: its damping (float64), then where its early reflections lie, how many samples, the next of them, and frames at a time (int32). */
export const ROOM = BUSES + VOICE_SLOTS * BUS_BYTES;
export const EARLY_LEFT = ROOM + 8;
export const EARLY_RIGHT = ROOM + 12;
export const EARLY_SAMPLES = ROOM + 16;
export const EARLY_NEXT = ROOM + 20;
export const ROOM_FRAMES = ROOM + 24;
/** Its lines: where, how many samples, the next of them (int32), what is kept on the way, and what its damping holds (float64). */
export const ROOM_LINES = 8;
export const LINES = ROOM + 32;
export const LINE_SAMPLES = 4;
export const LINE_NEXT = 8;
export const LINE_KEPT = 16;
export const LINE_DAMPED = 24;
export const LINE_BYTES = 32;
/** Its walls, of the left side and then of the right: frames (int32), how loud on the same side and on the other (float64). */
export const ROOM_TAPS = 5;
export const TAPS = LINES + ROOM_LINES * LINE_BYTES;
export const TAP_SAME = 8;
export const TAP_OTHER = 16;
export const TAP_BYTES = 24;
/** Two pages of WebAssembly. */
export const MEMORY_BYTES = 131072;
