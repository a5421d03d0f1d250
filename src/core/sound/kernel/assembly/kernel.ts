// AssemblyScript: the loops over samples of plain-kernel.ts, two at a time, with the same rounding. Every operation is one of IEEE 754
// on doubles, and what is kept as single precision is rounded once, so that both make the same bytes.

import {
  BLOCK_FRAMES,
  BUSES,
  BUS_BYTES,
  DECAY,
  DECAYED,
  FADE_FRAMES,
  FADE_START,
  HURRY_FRAMES,
  HURRY_START,
  LEVEL_LEFT,
  LEVEL_RIGHT,
  LOOP_START,
  NUMBERS,
  OUT_LEFT,
  OUT_RIGHT,
  PEAK,
  RATE,
  ROOM_LEFT,
  ROOM_RIGHT,
  SCRATCH_LEFT,
  SCRATCH_RIGHT,
  SENT_BEFORE,
  SENT_NOW,
  SINCE,
  TO_LEFT,
  TO_RIGHT,
  TURNED,
} from "../layout";

export { addRoom } from "./room";

const DOUBLE: usize = 8;
const SINGLE: usize = 4;

/** Fills the scratch with samples that lie one after the other. @param sides 1: left only, 2: both */
export function copy(sides: i32, left: usize, right: usize, from: i32, to: i32): void {
  copySide(left, SCRATCH_LEFT, from, to);
  if (sides === 2) copySide(right, SCRATCH_RIGHT, from, to);
}

/** Fills the scratch with what lies between samples. @param left where the sample number 0 lies, or would lie */
export function interpolate(sides: i32, left: usize, right: usize, from: i32, to: i32): void {
  const since = numberAt(SINCE);
  const rate = numberAt(RATE);
  const loopStart = numberAt(LOOP_START);
  const turned = numberAt(TURNED);
  let index = from;
  for (; index + 1 < to; index += 2) {
    const first = positionAt(since + <f64>index, rate, loopStart, turned);
    const second = positionAt(since + <f64>(index + 1), rate, loopStart, turned);
    const firstAt = <i32>first;
    const secondAt = <i32>second;
    const share = f64x2.replace_lane(f64x2.splat(first - <f64>firstAt), 1, second - <f64>secondAt);
    const one = <usize>(firstAt - 1) * SINGLE;
    const other = <usize>(secondAt - 1) * SINGLE;
    const into = <usize>index * DOUBLE;
    v128.store(SCRATCH_LEFT + into, cubicPair(left + one, left + other, share));
    if (sides === 2) v128.store(SCRATCH_RIGHT + into, cubicPair(right + one, right + other, share));
  }
  if (index < to) {
    const position = positionAt(since + <f64>index, rate, loopStart, turned);
    const at = <i32>position;
    const share = position - <f64>at;
    const one = <usize>(at - 1) * SINGLE;
    const into = <usize>index * DOUBLE;
    store<f64>(SCRATCH_LEFT + into, cubicOne(left + one, share));
    if (sides === 2) store<f64>(SCRATCH_RIGHT + into, cubicOne(right + one, share));
  }
}

/** See Kernel.mix. */
export function mix(sides: i32, bus: i32, from: i32, to: i32, frames: i32): void {
  const onRight: usize = sides === 2 ? SCRATCH_RIGHT : SCRATCH_LEFT;
  const left = shape(SCRATCH_LEFT, from, to);
  if (sides === 2) shape(SCRATCH_RIGHT, from, to);
  putNumber(DECAYED, left);
  const into: usize = BUSES + <usize>bus * BUS_BYTES;
  const toLeft = numberAt(TO_LEFT);
  const toRight = numberAt(TO_RIGHT);
  const levelLeft = numberAt(LEVEL_LEFT);
  const levelRight = numberAt(LEVEL_RIGHT);
  let peak: f64;
  let other: f64;
  if (toLeft === levelLeft && toRight === levelRight) {
    peak = place(SCRATCH_LEFT, into, from, to, levelLeft);
    other = place(onRight, into + BLOCK_FRAMES * SINGLE, from, to, levelRight);
  } else {
    peak = placeMoving(SCRATCH_LEFT, into, from, to, levelLeft, toLeft, frames);
    other = placeMoving(onRight, into + BLOCK_FRAMES * SINGLE, from, to, levelRight, toRight, frames);
  }
  putNumber(PEAK, sides === 2 ? max(peak, other) : peak);
  const before = numberAt(SENT_BEFORE);
  const now = numberAt(SENT_NOW);
  if (before !== 0.0 || now !== 0.0) {
    const rise = (now - before) / <f64>frames;
    send(SCRATCH_LEFT, ROOM_LEFT, from, to, before, rise, toLeft);
    send(onRight, ROOM_RIGHT, from, to, before, rise, toRight);
  }
}

/** Decay and fades. @returns what is left by the decay */
function shape(scratch: usize, from: i32, to: i32): f64 {
  const decay = numberAt(DECAY);
  let left = numberAt(DECAYED);
  if (decay !== 1.0) left = fall(scratch, from, to, left, decay);
  fade(scratch, from, to, numberAt(FADE_START), numberAt(FADE_FRAMES));
  fade(scratch, from, to, numberAt(HURRY_START), numberAt(HURRY_FRAMES));
  return left;
}

/** See Kernel.addBus. */
export function addBus(bus: i32, frames: i32): void {
  const from: usize = BUSES + <usize>bus * BUS_BYTES;
  const left = addSide(from, OUT_LEFT, frames);
  putNumber(PEAK, max(left, addSide(from + BLOCK_FRAMES * SINGLE, OUT_RIGHT, frames)));
}

/** Blocks are whole in memory, whatever part of them counts, and what lies behind is not read. */
function addSide(from: usize, into: usize, frames: i32): f64 {
  let peaks = f32x4.splat(0);
  for (let index = 0; index + 3 < frames; index += 4) {
    const at = <usize>index * SINGLE;
    const samples = v128.load(from + at);
    v128.store(into + at, f32x4.add(v128.load(into + at), samples));
    peaks = f32x4.pmax(peaks, f32x4.abs(samples));
  }
  let peak = max(
    max(f32x4.extract_lane(peaks, 0), f32x4.extract_lane(peaks, 1)),
    max(f32x4.extract_lane(peaks, 2), f32x4.extract_lane(peaks, 3)),
  );
  for (let index = frames & ~3; index < frames; index++) {
    const at = <usize>index * SINGLE;
    const sample = load<f32>(from + at);
    store<f32>(into + at, load<f32>(into + at) + sample);
    peak = max(peak, abs(sample));
  }
  return <f64>peak;
}

function copySide(samples: usize, scratch: usize, from: i32, to: i32): void {
  let index = from;
  for (; index + 1 < to; index += 2) {
    const pair = v128.load64_zero(samples + <usize>(index - from) * SINGLE);
    v128.store(scratch + <usize>index * DOUBLE, f64x2.promote_low_f32x4(pair));
  }
  if (index < to) store<f64>(scratch + <usize>index * DOUBLE, <f64>load<f32>(samples + <usize>(index - from) * SINGLE));
}

function numberAt(place: i32): f64 {
  return load<f64>(NUMBERS + <usize>place * DOUBLE);
}

function putNumber(place: i32, value: f64): void {
  store<f64>(NUMBERS + <usize>place * DOUBLE, value);
}

function positionAt(frame: f64, rate: f64, loopStart: f64, turned: f64): f64 {
  const position = frame * rate;
  return turned > 0.0 ? loopStart + (position - loopStart - turned) : position;
}

function cubicPair(one: usize, other: usize, share: v128): v128 {
  const first = v128.load(one);
  const second = v128.load(other);
  const low = v128.shuffle<f32>(first, second, 0, 4, 1, 5);
  const high = v128.shuffle<f32>(first, second, 2, 6, 3, 7);
  const a = f64x2.promote_low_f32x4(low);
  const b = f64x2.promote_low_f32x4(v128.shuffle<f32>(low, low, 2, 3, 2, 3));
  const c = f64x2.promote_low_f32x4(high);
  const d = f64x2.promote_low_f32x4(v128.shuffle<f32>(high, high, 2, 3, 2, 3));
  const third = f64x2.add(f64x2.mul(f64x2.splat(0.5), f64x2.sub(d, a)), f64x2.mul(f64x2.splat(1.5), f64x2.sub(b, c)));
  const second2 = f64x2.sub(
    f64x2.add(f64x2.sub(a, f64x2.mul(f64x2.splat(2.5), b)), f64x2.mul(f64x2.splat(2), c)),
    f64x2.mul(f64x2.splat(0.5), d),
  );
  const slope = f64x2.mul(f64x2.splat(0.5), f64x2.sub(c, a));
  const upper = f64x2.add(f64x2.mul(f64x2.add(f64x2.mul(third, share), second2), share), slope);
  return f64x2.add(f64x2.mul(upper, share), b);
}

function cubicOne(at: usize, share: f64): f64 {
  const a = <f64>load<f32>(at);
  const b = <f64>load<f32>(at + SINGLE);
  const c = <f64>load<f32>(at + 2 * SINGLE);
  const d = <f64>load<f32>(at + 3 * SINGLE);
  const third = 0.5 * (d - a) + 1.5 * (b - c);
  const second = a - 2.5 * b + 2.0 * c - 0.5 * d;
  return ((third * share + second) * share + 0.5 * (c - a)) * share + b;
}

function fall(scratch: usize, from: i32, to: i32, decayed: f64, decay: f64): f64 {
  for (let index = from; index < to; index++) {
    const at = scratch + <usize>index * DOUBLE;
    store<f64>(at, load<f64>(at) * decayed);
    decayed *= decay;
  }
  return decayed;
}

function fade(scratch: usize, from: i32, to: i32, start: f64, frames: f64): void {
  if (start >= <f64>to) return;
  const first = start > <f64>from ? <i32>start : from;
  for (let index = first; index < to; index++) {
    const at = scratch + <usize>index * DOUBLE;
    store<f64>(at, load<f64>(at) * (1.0 - (<f64>index - start) / frames));
  }
}

function place(scratch: usize, into: usize, from: i32, to: i32, level: f64): f64 {
  const levels = f64x2.splat(level);
  let peaks = f64x2.splat(0);
  let index = from;
  for (; index + 1 < to; index += 2) {
    const samples = v128.load(scratch + <usize>index * DOUBLE);
    peaks = f64x2.pmax(peaks, f64x2.abs(samples));
    addPair(into + <usize>index * SINGLE, f64x2.mul(samples, levels));
  }
  let peak = highest(peaks);
  if (index < to) {
    const sample = load<f64>(scratch + <usize>index * DOUBLE);
    peak = max(peak, abs(sample));
    addOne(into + <usize>index * SINGLE, sample * level);
  }
  return peak;
}

function placeMoving(scratch: usize, into: usize, from: i32, to: i32, level: f64, target: f64, frames: i32): f64 {
  const way = target - level;
  let peak: f64 = 0;
  for (let index = from; index < to; index++) {
    const moved = <f64>(index + 1) / <f64>frames;
    const sample = load<f64>(scratch + <usize>index * DOUBLE);
    peak = max(peak, abs(sample));
    addOne(into + <usize>index * SINGLE, sample * (level + way * moved));
  }
  return peak;
}

function send(scratch: usize, into: usize, from: i32, to: i32, sent: f64, rise: f64, gain: f64): void {
  const gains = f64x2.splat(gain);
  const rises = f64x2.splat(rise);
  const base = f64x2.splat(sent);
  let counted = f64x2.replace_lane(f64x2.splat(<f64>(from + 1)), 1, <f64>(from + 2));
  let index = from;
  for (; index + 1 < to; index += 2) {
    const share = f64x2.add(base, f64x2.mul(rises, counted));
    const samples = v128.load(scratch + <usize>index * DOUBLE);
    addPair(into + <usize>index * SINGLE, f64x2.mul(f64x2.mul(samples, share), gains));
    counted = f64x2.add(counted, f64x2.splat(2));
  }
  if (index < to) {
    const share = sent + rise * <f64>(index + 1);
    addOne(into + <usize>index * SINGLE, load<f64>(scratch + <usize>index * DOUBLE) * share * gain);
  }
}

function addPair(at: usize, samples: v128): void {
  const sum = f64x2.add(f64x2.promote_low_f32x4(v128.load64_zero(at)), samples);
  v128.store64_lane(at, f32x4.demote_f64x2_zero(sum), 0);
}

function addOne(at: usize, sample: f64): void {
  store<f32>(at, <f32>(<f64>load<f32>(at) + sample));
}

function highest(peaks: v128): f64 {
  return max(f64x2.extract_lane(peaks, 0), f64x2.extract_lane(peaks, 1));
}
