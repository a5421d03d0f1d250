/** The messages of a drum kit or pad controller (MIDI 1.0 Detailed Specification, from memory). Channels count from 1. */
export type MidiMessage =
  | { readonly type: "note-on"; readonly channel: number; readonly note: number; readonly velocity: number }
  | { readonly type: "note-off"; readonly channel: number; readonly note: number }
  | { readonly type: "note-pressure"; readonly channel: number; readonly note: number; readonly value: number }
  | { readonly type: "controller"; readonly channel: number; readonly controller: number; readonly value: number }
  | { readonly type: "channel-pressure"; readonly channel: number; readonly value: number };

/**
 * Reads one message as Web MIDI hands it over: whole, with its status byte.
 * @returns undefined for messages that play nothing (clock, system exclusive, program and pitch) and for broken ones
 * @example readMidiMessage([0x99, 36, 0]) // { type: "note-off", channel: 10, note: 36 }: velocity 0 is a note-off
 */
export function readMidiMessage(bytes: ArrayLike<number>): MidiMessage | undefined {
  const status = bytes[0]!;
  const kind = status >> 4;
  const channel = (status & 0x0f) + 1;
  const [first, second] = [bytes[1], bytes[2]];
  if (!isData(first)) return undefined;
  if (kind === 0xd) return { type: "channel-pressure", channel, value: first };
  if (!isData(second)) return undefined;
  if (kind === 0x9 && second > 0) return { type: "note-on", channel, note: first, velocity: second };
  if (kind === 0x8 || kind === 0x9) return { type: "note-off", channel, note: first };
  if (kind === 0xa) return { type: "note-pressure", channel, note: first, value: second };
  return kind === 0xb ? { type: "controller", channel, controller: first, value: second } : undefined;
}

function isData(byte: number | undefined): byte is number {
  return byte !== undefined && byte <= 0x7f;
}
