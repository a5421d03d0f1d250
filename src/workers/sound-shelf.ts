import type { SoundBank, SoundId, Sounds } from "@/core/sound/sound";
import { renderSounds } from "@/core/sound/render-sounds";

/** A kit takes some forty megabytes at 48 kHz. */
const RATES_KEPT = 2;

/** The sounds a thread has made or been given, of the newest two rates. */
export class SoundShelf {
  private readonly rates = new Map<number, Sounds>();

  put({ sampleRate, sounds }: SoundBank): void {
    const known = this.rates.get(sampleRate);
    this.rates.delete(sampleRate);
    this.rates.set(sampleRate, { ...known, ...sounds });
    for (const rate of this.rates.keys()) if (this.rates.size > RATES_KEPT) this.rates.delete(rate);
  }

  /** Makes what is not there. */
  get(ids: readonly SoundId[], sampleRate: number): SoundBank {
    const bank = renderSounds(ids, sampleRate, this.rates.get(sampleRate));
    this.put(bank);
    return bank;
  }
}
