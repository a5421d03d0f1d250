import { CoreError } from "../../core-error";
import { MAX_MIDI_EVENTS } from "../../limits";

/** Longer texts nobody writes, and the library that reads them fails at. */
const MAX_TEXT_BYTES = 0xffff;
/** SMF 1.0 (RP-001, from memory): numbers of variable length have four bytes at the most. */
const MAX_NUMBER_BYTES = 4;

/** SMF 1.0 (from memory): kinds of meta events whose length is fixed, and their names. */
const META_LENGTHS: Readonly<Record<number, { readonly name: string; readonly lengths: readonly number[] }>> = {
  0x00: { name: "sequence number", lengths: [2] },
  0x20: { name: "channel prefix", lengths: [1] },
  0x21: { name: "port prefix", lengths: [1] },
  0x2f: { name: "end of track", lengths: [0] },
  0x51: { name: "tempo", lengths: [3] },
  0x54: { name: "SMPTE offset", lengths: [5] },
  0x58: { name: "time signature", lengths: [2, 4] },
  0x59: { name: "key signature", lengths: [2] },
};

/**
 * Walks over a Standard MIDI File of type 0 or 1, event by event, and refuses what a strict reader would, so that whoever
 * reads it after this finds every number and length in its place.
 * @returns the file without chunks of unknown kinds, which are to be passed over (RP-001, from memory) and stop other readers
 * @throws CoreError "bad-midi" with what is wrong, in which track and at which byte, "too-large" for too many events
 */
export function walkSmf(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tracks = checkHeader(bytes, view);
  const known = [bytes.subarray(0, HEADER_END)];
  let at = HEADER_END;
  let events = 0;
  for (let track = 1; track <= tracks;) {
    if (at + 8 > bytes.length)
      refuseMidi(`it says it has ${tracks} tracks, but track ${track} is missing (byte ${at})`);
    const kind = kindAt(bytes, at);
    if (!CHUNK_KIND.test(kind)) refuseMidi(`byte ${at} should begin track ${track} and does not`);
    const end = at + 8 + view.getUint32(at + 4);
    if (end > bytes.length) refuseMidi(`track ${track} is cut off (byte ${at})`);
    if (kind === "MTrk") {
      events += new TrackWalk(bytes, track++, at + 8, end).walk();
      if (events > MAX_MIDI_EVENTS)
        throw new CoreError(
          "too-large",
          `This MIDI file has more than ${MAX_MIDI_EVENTS} events, the most that is read.`,
        );
      known.push(bytes.subarray(at, end));
    }
    at = end;
  }
  return joined(known);
}

function joined(pieces: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}

export function refuseMidi(message: string, cause?: unknown): never {
  const options = cause === undefined ? undefined : { cause };
  throw new CoreError("bad-midi", `This MIDI file can't be read: ${message}.`, [], options);
}

const HEADER_END = 14;
/** Four characters of ASCII (SMF 1.0, from memory). */
const CHUNK_KIND = /^[\x20-\x7e]{4}$/;

/** SMF 1.0: MThd with format, track count and division. @returns how many tracks there are to be */
function checkHeader(bytes: Uint8Array, view: DataView): number {
  if (bytes.length < HEADER_END || kindAt(bytes, 0) !== "MThd")
    refuseMidi("it does not begin with a MIDI header (byte 0)");
  if (view.getUint32(4) !== 6) refuseMidi(`its header is ${view.getUint32(4)} bytes long instead of 6 (byte 4)`);
  const format = view.getUint16(8);
  if (format > 1) refuseMidi(`it is of type ${format}; types 0 and 1 are read (byte 8)`);
  const division = view.getUint16(12);
  if (division === 0 || division & 0x8000) refuseMidi("its time is not counted in ticks per quarter note (byte 12)");
  return view.getUint16(10);
}

function kindAt(bytes: Uint8Array, at: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + 4));
}

/** A walk over the events of one track. */
class TrackWalk {
  private status = 0;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly track: number,
    private at: number,
    private readonly end: number,
  ) {}

  /** @returns how many events there are */
  walk(): number {
    let events = 0;
    for (; this.at < this.end; events++) {
      this.number("time");
      this.event();
    }
    return events;
  }

  private event(): void {
    const start = this.at;
    const first = this.byte();
    if (first === 0xff) return this.meta(start);
    if (first === 0xf0 || first === 0xf7) return this.skip(this.number("length"), start);
    if (first >= 0xf0) this.refuse(`an event of a kind that no file has (${first})`, start);
    if (first >= 0x80) this.status = first;
    else if (this.status === 0) this.refuse("data before any event", start);
    else this.at--;
    // MIDI 1.0 (from memory): program change and channel pressure have one byte of data, the others two.
    const kind = this.status >> 4;
    const count = kind === 0xc || kind === 0xd ? 1 : 2;
    for (let index = 0; index < count; index++) {
      const at = this.at;
      const data = this.byte();
      if (data > 127) this.refuse(`a value of ${data}, which is outside 0 to 127`, at);
    }
  }

  private meta(start: number): void {
    const kind = this.byte();
    const length = this.number("length");
    const known = META_LENGTHS[kind];
    if (known && !known.lengths.includes(length))
      this.refuse(`a ${known.name} of ${length} bytes instead of ${known.lengths.join(" or ")}`, start);
    if (kind > 0 && kind < 8 && length > MAX_TEXT_BYTES)
      this.refuse(`a text of ${length} bytes; ${MAX_TEXT_BYTES} are the most`, start);
    this.skip(length, start);
  }

  private skip(length: number, start: number): void {
    if (this.at + length > this.end) this.refuse(`an event of ${length} bytes that goes on beyond its track`, start);
    this.at += length;
  }

  private number(what: string): number {
    const start = this.at;
    let value = 0;
    for (let count = 0; count < MAX_NUMBER_BYTES; count++) {
      const byte = this.byte();
      value = value * 128 + (byte & 0x7f);
      if (byte < 0x80) return value;
    }
    return this.refuse(`a ${what} of more than ${MAX_NUMBER_BYTES} bytes`, start);
  }

  private byte(): number {
    if (this.at >= this.end) this.refuse("an event that is cut off", this.at);
    return this.bytes[this.at++]!;
  }

  private refuse(what: string, at: number): never {
    return refuseMidi(`track ${this.track} has ${what} (byte ${at})`);
  }
}
