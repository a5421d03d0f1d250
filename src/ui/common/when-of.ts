const DAY_MS = 24 * 60 * 60_000;
const DAY = new Intl.DateTimeFormat(undefined, { dateStyle: "short" });
const TIME = new Intl.DateTimeFormat(undefined, { timeStyle: "medium", hour12: false });

/** A moment as the player's clock had it; with the day where it is not a day ago. @param timeMs since 1970 */
export function whenOf(timeMs: number): string {
  const old = Date.now() - timeMs > DAY_MS;
  return `${old ? `${DAY.format(timeMs)} ` : ""}${TIME.format(timeMs)}`;
}
