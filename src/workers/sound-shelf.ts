import type { OwnSamples } from "@/core/sound/kits/own-sample";
import type { Sound, SoundBank, SoundId, Sounds } from "@/core/sound/signal/sound";
import { isDerived } from "@/core/sound/kits/sound-sets";
import { renderSound, renderSounds } from "@/core/sound/kits/render-sounds";

/** A kit takes some forty megabytes at 48 kHz. */
const RATES_KEPT = 2;

/** The sounds a thread has made or been given, of the newest two rates. */
export class SoundShelf {
  private readonly rates = new Map<number, Sounds>();
  private samples: OwnSamples = {};

  put({ sampleRate, sounds }: SoundBank): void {
    const known = this.rates.get(sampleRate);
    this.rates.delete(sampleRate);
    this.rates.set(sampleRate, { ...known, ...sounds });
    for (const rate of this.rates.keys()) if (this.rates.size > RATES_KEPT) this.rates.delete(rate);
  }

  /** Samples that sounds are cut out of, beside those that are there. */
  putSamples(samples: OwnSamples): void {
    this.samples = { ...this.samples, ...samples };
  }

  /** The same in place of those that are there, whose sounds go with them: what one sends is not kept for the next. */
  setSamples(samples: OwnSamples): void {
    this.samples = samples;
    for (const [rate, sounds] of this.rates)
      this.rates.set(rate, Object.fromEntries(Object.entries(sounds).filter(([id]) => !isDerived(id))));
  }

  /** Makes a sound, of others that are there or by itself. */
  make(id: SoundId, sampleRate: number): Sound {
    return renderSound(id, sampleRate, this.samples, this.rates.get(sampleRate));
  }

  /** Makes what is not there. */
  get(ids: readonly SoundId[], sampleRate: number): SoundBank {
    const bank = renderSounds(ids, sampleRate, this.rates.get(sampleRate), this.samples);
    this.put(bank);
    return bank;
  }
}
