/** Letters of a name that a file takes. */
const MOST_CHARACTERS = 120;
/** Characters that can't be seen, or that reverse their neighbours (Unicode categories); but for the joiners within words and signs. */
const UNSEEN = /(?![\u200c\u200d])[\p{Cc}\p{Cf}\p{Zl}\p{Zp}]/gu;

/**
 * A name that was typed, or came with a file, as it is kept and shown; "" where there is nothing to see of it.
 * @example plainName("  Tide\u202e Table ") // "Tide Table"
 */
export function plainName(typed: string): string {
  const seen = typed.replace(UNSEEN, "").trim().slice(0, MOST_CHARACTERS).trimEnd();
  return /[^\s\u200c\u200d]/u.test(seen) ? seen : "";
}
