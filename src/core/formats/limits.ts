/** Limits on what is read from outside; our own documents keep them too. */
export const MAX_FILE_BYTES = 10 * 1024 * 1024;
export const MAX_PATTERNS = 256;
export const MAX_HITS = 100_000;
