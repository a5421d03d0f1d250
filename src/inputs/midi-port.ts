/** A source of MIDI messages, real or simulated; all go through the same door. */
export interface MidiPort {
  /** The device's name: what its profile is found by. */
  readonly name: string;
  /** Stable while it is plugged in. */
  readonly id: string;
  /** @param listener gets whole messages with their time stamp on the clock of `performance.now()` @returns the undo */
  listen(listener: (bytes: ArrayLike<number>, timeMs: number) => void): () => void;
}

/** What is plugged in, as it comes and goes. */
export interface MidiPortListener {
  plugged(port: MidiPort): void;
  unplugged(portId: string): void;
}
