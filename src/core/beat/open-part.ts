import type { Beat, Part } from "./beat";

/** A part is heard that is not muted, and soloed where any is. @example isOpenPart(beat, part) // true */
export function isOpenPart({ parts }: Beat, { muted, soloed }: Part): boolean {
  return parts.some((part) => part.soloed) ? soloed : !muted;
}
