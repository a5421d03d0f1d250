/** In place, of a length that is a power of two: J. W. Cooley and J. W. Tukey 1965 (from memory). */
export function fourier(re: Float64Array, im: Float64Array): void {
  const count = re.length;
  for (let index = 1, other = 0; index < count; index++) {
    let bit = count >> 1;
    for (; other & bit; bit >>= 1) other ^= bit;
    other |= bit;
    if (index < other) {
      [re[index], re[other]] = [re[other]!, re[index]!];
      [im[index], im[other]] = [im[other]!, im[index]!];
    }
  }
  for (let size = 2; size <= count; size *= 2)
    for (let step = 0; step < size / 2; step++) {
      const angle = (-2 * Math.PI * step) / size;
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      for (let at = step; at < count; at += size) {
        const other = at + size / 2;
        const x = re[other]! * c - im[other]! * s;
        const y = re[other]! * s + im[other]! * c;
        [re[other], im[other]] = [re[at]! - x, im[at]! - y];
        re[at]! += x;
        im[at]! += y;
      }
    }
}

/** The power at every multiple of sampleRate / length, of samples that are shorter than the length or as long. */
export function powerSpectrum(samples: Float32Array, length: number, window: boolean): Float64Array {
  const [re, im] = [new Float64Array(length), new Float64Array(length)];
  const count = Math.min(length, samples.length);
  for (let at = 0; at < count; at++)
    re[at] = samples[at]! * (window ? 0.5 - 0.5 * Math.cos((2 * Math.PI * (at + 0.5)) / count) : 1);
  fourier(re, im);
  return Float64Array.from({ length: length / 2 }, (_, bin) => re[bin]! ** 2 + im[bin]! ** 2);
}
