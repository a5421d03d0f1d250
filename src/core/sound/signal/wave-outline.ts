import { loudest, type Samples } from "./dsp";

/**
 * The outline of a sound as the path of an SVG: of each pixel's stretch the highest and the lowest sample of any channel, as
 * high as its loudest sample lets it be.
 * @example waveOutline([Float32Array.of(1, -1)], 1, 10) // "M0 0V10"
 */
export function waveOutline(channels: readonly Samples[], width: number, height: number): string {
  const frames = channels[0]!.length;
  const peak = Math.max(...channels.map(loudest)) || 1;
  const y = (sample: number) => Number((((1 - sample / peak) / 2) * height).toFixed(1));
  let path = "";
  for (let x = 0; x < width; x++) {
    const from = Math.floor((x * frames) / width);
    const to = Math.max(from + 1, Math.floor(((x + 1) * frames) / width));
    let [low, high] = [Infinity, -Infinity];
    for (const channel of channels)
      for (let frame = from; frame < Math.min(to, frames); frame++) {
        low = Math.min(low, channel[frame]!);
        high = Math.max(high, channel[frame]!);
      }
    if (low <= high) path += `M${x} ${y(high)}V${y(low)}`;
  }
  return path;
}
