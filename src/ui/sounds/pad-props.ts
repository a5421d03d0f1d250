import type { KitPart, Pad } from "@/core/beat/beat";
import type { SoundDesk } from "@/store/sounds/sound-desk";
import type { Browsing } from "./use-browsing";

/** The pad whose sound is looked at, and what can be done with it. */
export interface PadProps {
  readonly desk: SoundDesk;
  readonly part: KitPart;
  readonly pad: Pad;
  readonly browsing: Browsing;
}
