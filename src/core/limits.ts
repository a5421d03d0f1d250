/**
 * What a document may hold at the most. Files are read up to these, editing stops at them, and what they allow fits into a
 * file that can be read back: 100,000 hits with every field they can have are about 33 MB, and as many kept starts 6 MB.
 */
export const MAX_BEAT_FILE_BYTES = 64 * 1024 * 1024;
/** Samples of the player's own in one beat, and the bytes that they may have together. */
export const MAX_SAMPLES = 64;
export const MAX_SAMPLE_BYTES = 50 * 1024 * 1024;
/**
 * Seconds, of one side, of the sounds that are made for a beat's pads: some 350 MB at 48 kHz. Nine kits with every drum tuned are
 * within it; five hundred cuts of one long sample are not.
 */
export const MAX_DERIVED_SECONDS = 1800;
/** One of them is cut off after so long. */
export const MAX_SAMPLE_SECONDS = 60;
/** MIDI files, grooves and lists of echoes, and what the server takes. */
export const MAX_FILE_BYTES = 10 * 1024 * 1024;
/** Events of a MIDI file: an hour of an orchestra has fewer, and ten megabytes of pitch wheels take a minute to read. */
export const MAX_MIDI_EVENTS = 500_000;
export const MAX_PATTERNS = 256;
/** Parts that a beat may have. */
export const MAX_PARTS = 64;
export const MAX_PASSES = 10_000;
export const MAX_HITS = 100_000;
/** Echoes that came back as one pass, and are known by it; the newest, where passes are merged again and again. */
export const MAX_ECHO_SPANS = 100;
/** Where hits started from, over all points that timing was kept at. */
export const MAX_POINT_STARTS = 200_000;
/** From this share of a limit on the player is told. */
export const NEAR_LIMIT = 0.8;
/** Ids of a beat that is read are below this, so that lists by id stay small; larger ones are given anew. */
export const MAX_IDS = 2 ** 22;
/** What one WAV file may be: a quarter of an hour at 48 kHz, as two lists of samples some 350 MB. */
export const MAX_RENDER_FRAMES = 15 * 60 * 48_000;
/** The same for who shares a server with others: two minutes at 48 kHz. */
export const MAX_SERVER_RENDER_FRAMES = 2 * 60 * 48_000;
/** Echoes of one list; each is worked out for some hundredths of a second. */
export const MAX_ECHOES = 1000;
