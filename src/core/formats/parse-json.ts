import { CoreError, type CoreErrorCode } from "../core-error";

/**
 * @throws CoreError with the code given when the text is not JSON
 * @example parseJson("[1]", "bad-file", "beat") // [1]
 */
export function parseJson(text: string, code: CoreErrorCode, what: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new CoreError(code, `This is no ${what}: its text is not JSON (${(cause as Error).message}).`, [], { cause });
  }
}
