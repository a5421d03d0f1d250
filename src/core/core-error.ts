/** What went wrong, for programs; the message says it for people. */
export type CoreErrorCode =
  | "bad-grid"
  | "bad-meter"
  | "bad-tempo"
  | "bad-value"
  | "unknown-id"
  | "unknown-name"
  | "bad-midi"
  | "bad-beat-file"
  | "bad-groove"
  | "bad-kit"
  | "bad-sample"
  | "bad-echoes"
  | "bad-record"
  | "too-large";

/** The one error base of the core: a code, a message that says what to do, and where in the data it is. */
export class CoreError extends Error {
  override readonly name = "CoreError";
  constructor(
    readonly code: CoreErrorCode,
    message: string,
    /** Lines of detail, each "where: what", empty when the message says it all. */
    readonly problems: readonly string[] = [],
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}
