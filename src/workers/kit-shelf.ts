import { renderKit, type Kit } from "@/core/sound/kit";

/** A kit takes some forty megabytes at 48 kHz. */
const KITS_KEPT = 2;

/** The kits a thread has made or been given, the newest two rates. */
export class KitShelf {
  private readonly kits = new Map<number, Kit>();

  put(kit: Kit): void {
    this.kits.delete(kit.sampleRate);
    this.kits.set(kit.sampleRate, kit);
    for (const rate of this.kits.keys()) if (this.kits.size > KITS_KEPT) this.kits.delete(rate);
  }

  /** Makes it where it is not there. */
  get(sampleRate: number): Kit {
    const kit = this.kits.get(sampleRate) ?? renderKit(sampleRate);
    this.put(kit);
    return kit;
  }
}
