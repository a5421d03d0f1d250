import { addNoise, finish, setPeak, silence, type Samples } from "../signal/dsp";
import { fromDb } from "../signal/gain";
import { addModes } from "../signal/modes";
import { seededRandom } from "../../random";

/** Short wooden ticks: the higher, the stronger the place. */
export interface ClickSamples {
  readonly accent: Samples;
  readonly group: Samples;
  readonly beat: Samples;
  readonly between: Samples;
}

export function renderClick(sampleRate: number): ClickSamples {
  return {
    accent: tick(1870, -10, sampleRate),
    group: tick(1560, -12, sampleRate),
    beat: tick(1240, -14, sampleRate),
    between: tick(990, -16, sampleRate),
  };
}

function tick(hertz: number, peakDb: number, sampleRate: number): Samples {
  const out = silence(0.08, sampleRate);
  addModes(
    out,
    [
      { hertz, decaySeconds: 0.05, gain: 1 },
      { hertz: hertz * 2.76, decaySeconds: 0.02, gain: 0.3 },
    ],
    sampleRate,
  );
  addNoise(out, { gain: 0.4, decaySeconds: 0.004, lowHertz: 2500 }, sampleRate, seededRandom(3));
  return setPeak(finish(out, sampleRate), fromDb(peakDb));
}
