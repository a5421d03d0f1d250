/** How far the limiter looks ahead. */
const LOOK_AHEAD_SECONDS = 0.0018;
/** What is between samples is known so many frames later. */
export const KNOWN_AFTER = 6;

/** By so many frames what leaves the limiter is late. @example limiterDelayFrames(48_000) // 92 */
export function limiterDelayFrames(sampleRate: number): number {
  return Math.round(LOOK_AHEAD_SECONDS * sampleRate) + KNOWN_AFTER;
}
