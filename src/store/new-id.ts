/** An id nobody else has. Without a secure context the browser lacks the shorter way. */
export function newId(): string {
  const { randomUUID } = crypto as Partial<Crypto>;
  if (randomUUID) return crypto.randomUUID();
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
}
