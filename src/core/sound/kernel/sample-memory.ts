import type { Samples } from "../signal/dsp";

/** Vectors of WebAssembly are read quickest where they begin at a multiple of this. */
const ALIGNED_BYTES = 16;

/** Bytes that nobody has, `to` not included. */
interface Gap {
  readonly from: number;
  readonly to: number;
}

/** Samples in a stretch of memory that never moves: the first gap that is large enough is taken. */
export class SampleMemory {
  private gaps: Gap[];
  private readonly bytes = new Map<Samples, number>();

  /** @param from where it begins, a multiple of sixteen; it goes on to the end of the memory */
  constructor(
    private readonly memory: ArrayBuffer,
    from: number,
  ) {
    this.gaps = from < memory.byteLength ? [{ from, to: memory.byteLength }] : [];
  }

  /** Bytes that nobody has. */
  get free(): number {
    return this.gaps.reduce((sum, { from, to }) => sum + to - from, 0);
  }

  /** @returns the same samples, in this memory; where there is no room for them, as they are */
  keep(samples: Samples): Samples {
    const bytes = Math.ceil(samples.byteLength / ALIGNED_BYTES) * ALIGNED_BYTES;
    const at = this.gaps.findIndex(({ from, to }) => to - from >= bytes);
    if (at < 0 || bytes === 0) return samples;
    const { from, to } = this.gaps[at]!;
    this.gaps.splice(at, 1, ...(from + bytes < to ? [{ from: from + bytes, to }] : []));
    const kept = new Float32Array(this.memory, from, samples.length);
    kept.set(samples);
    this.bytes.set(kept, bytes);
    return kept;
  }

  /** Gives the room of samples back that `keep` returned, and nobody plays any more; for others nothing is done. */
  giveBack(samples: Samples): void {
    const bytes = this.bytes.get(samples);
    if (bytes === undefined) return;
    this.bytes.delete(samples);
    const { byteOffset } = samples;
    const sorted = [...this.gaps, { from: byteOffset, to: byteOffset + bytes }].sort((a, b) => a.from - b.from);
    this.gaps = sorted.reduce<Gap[]>((joined, gap) => {
      const last = joined.at(-1);
      if (last?.to === gap.from) joined[joined.length - 1] = { from: last.from, to: gap.to };
      else joined.push(gap);
      return joined;
    }, []);
  }
}
