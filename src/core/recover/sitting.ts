import type { Echo } from "./echo";

/** Who does not play for so long has done something else meanwhile. */
const SITTING_PAUSE_MS = 30 * 60_000;

/**
 * The phrases that were just played in a beat: back from a moment as far as there was no long pause. A reload, a crash or a look
 * at another beat in between parts nothing.
 * @param echoes the oldest first
 * @param nowMs since 1970
 * @returns the newest first
 */
export function justPlayed(echoes: readonly Echo[], beatId: string, nowMs: number): readonly Echo[] {
  const found: Echo[] = [];
  let laterMs = nowMs;
  for (const echo of echoes.toReversed()) {
    if (echo.hits.at(-1)!.beatId !== beatId) continue;
    if (laterMs - echo.endMs > SITTING_PAUSE_MS) break;
    found.push(echo);
    laterMs = echo.hits[0]!.timeMs;
  }
  return found;
}
