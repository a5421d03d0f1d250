import { writeMidi, type MidiData } from "midi-file";

/** Quirk: midi-file copies all that it has written of a track at every longer number; so it gets a few events at a time. */
const EVENTS_AT_ONCE = 256;
/** What midi-file puts before the events of a file with one track: the header, and the track's own. */
const HEADER_BYTES = 14;
const TRACK_HEADER_BYTES = 8;

/** The bytes of a MIDI file; values are written as they are, unchecked. */
export function smfBytes({ header, tracks }: MidiData): Uint8Array {
  const start = writeMidi({ header, tracks: [] });
  const chunks = tracks.map((events) => trackBytes(header, events));
  const length = chunks.reduce((sum, chunk) => sum + chunk.length, HEADER_BYTES);
  const bytes = new Uint8Array(length);
  bytes.set(start);
  // SMF 1.0: the number of tracks is the second word of the header.
  new DataView(bytes.buffer).setUint16(10, tracks.length);
  let at = HEADER_BYTES;
  for (const chunk of chunks) {
    bytes.set(chunk, at);
    at += chunk.length;
  }
  return bytes;
}

function trackBytes(header: MidiData["header"], events: MidiData["tracks"][number]): Uint8Array {
  const pieces: number[][] = [];
  for (let from = 0; from < events.length; from += EVENTS_AT_ONCE) {
    const file = writeMidi({ header, tracks: [events.slice(from, from + EVENTS_AT_ONCE)] });
    pieces.push(file.slice(HEADER_BYTES + TRACK_HEADER_BYTES));
  }
  const content = pieces.flat();
  const bytes = new Uint8Array(TRACK_HEADER_BYTES + content.length);
  bytes.set([..."MTrk"].map((letter) => letter.charCodeAt(0)));
  new DataView(bytes.buffer).setUint32(4, content.length);
  bytes.set(content, TRACK_HEADER_BYTES);
  return bytes;
}
