const NOT_LOADED = "That part of the app could not be loaded. Try again.";

/** True for what the bundler gives where a part of the program can't be had. */
export function isNotLoaded(error: unknown): boolean {
  return error instanceof Error && error.name === "ChunkLoadError";
}

/** An error in words for the player. */
export function wordsOf(error: unknown): string {
  if (isNotLoaded(error)) return NOT_LOADED;
  return error instanceof Error ? error.message : String(error);
}
