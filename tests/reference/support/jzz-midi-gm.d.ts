declare module "jzz-midi-gm" {
  /** Adds General MIDI names to JZZ. */
  export default function addNames(jzz: unknown): void;
}
