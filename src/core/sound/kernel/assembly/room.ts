// AssemblyScript: the loops over samples of plain-room.ts, two at a time, with the same rounding.

import {
  BLOCK_FRAMES,
  EARLY_LEFT,
  EARLY_NEXT,
  EARLY_RIGHT,
  EARLY_SAMPLES,
  LINES,
  LINE_BYTES,
  LINE_DAMPED,
  LINE_KEPT,
  LINE_NEXT,
  LINE_SAMPLES,
  OUT_LEFT,
  OUT_RIGHT,
  ROOM,
  ROOM_FRAMES,
  ROOM_LEFT,
  ROOM_LINES,
  ROOM_RIGHT,
  ROOM_TAPS,
  TAPS,
  TAP_BYTES,
  TAP_OTHER,
  TAP_SAME,
} from "../layout";

const SINGLE: usize = 4;
/** Level of the tail in what is heard. */
const TAIL_LEVEL: f64 = 0.5;

/** See Kernel.addRoom. */
export function addRoom(frames: i32): void {
  const most = load<i32>(ROOM_FRAMES);
  for (let from = 0; from < frames; from += most) {
    const count = min(most, frames - from);
    const block = <usize>from * SINGLE;
    keepEarly(block, count);
    reflect(OUT_LEFT + block, count, load<i32>(EARLY_LEFT), load<i32>(EARLY_RIGHT), TAPS);
    reflect(OUT_RIGHT + block, count, load<i32>(EARLY_RIGHT), load<i32>(EARLY_LEFT), TAPS + ROOM_TAPS * TAP_BYTES);
    const next = load<i32>(EARLY_NEXT) + count;
    const length = load<i32>(EARLY_SAMPLES);
    store<i32>(EARLY_NEXT, next >= length ? next - length : next);
    addTail(block, count);
  }
}

/** The first block is kept a second time behind the end, so that a block is read in one go from anywhere. */
function keepEarly(block: usize, count: i32): void {
  const length = load<i32>(EARLY_SAMPLES);
  const left = <usize>load<i32>(EARLY_LEFT);
  const right = <usize>load<i32>(EARLY_RIGHT);
  let at = load<i32>(EARLY_NEXT);
  for (let index = 0; index < count; index++) {
    const from = block + <usize>index * SINGLE;
    const into = <usize>at * SINGLE;
    store<f32>(left + into, load<f32>(ROOM_LEFT + from));
    store<f32>(right + into, load<f32>(ROOM_RIGHT + from));
    if (at < BLOCK_FRAMES) {
      const again = into + <usize>length * SINGLE;
      store<f32>(left + again, load<f32>(ROOM_LEFT + from));
      store<f32>(right + again, load<f32>(ROOM_RIGHT + from));
    }
    at = at + 1 === length ? 0 : at + 1;
  }
}

function reflect(out: usize, count: i32, same: usize, other: usize, taps: usize): void {
  let index = 0;
  for (; index + 1 < count; index += 2) {
    let sum = f64x2.splat(0);
    for (let tap = 0; tap < ROOM_TAPS; tap++) {
      const wall = taps + <usize>tap * TAP_BYTES;
      const from = earlyAt(index, load<i32>(wall));
      const ofSame = f64x2.mul(pairAt(same + from), v128.load_splat<f64>(wall + TAP_SAME));
      const ofOther = f64x2.mul(pairAt(other + from), v128.load_splat<f64>(wall + TAP_OTHER));
      sum = f64x2.add(sum, f64x2.add(ofSame, ofOther));
    }
    addPair(out + <usize>index * SINGLE, sum);
  }
  if (index < count) {
    let sum: f64 = 0;
    for (let tap = 0; tap < ROOM_TAPS; tap++) {
      const wall = taps + <usize>tap * TAP_BYTES;
      const from = earlyAt(index, load<i32>(wall));
      sum +=
        <f64>load<f32>(same + from) * load<f64>(wall + TAP_SAME) +
        <f64>load<f32>(other + from) * load<f64>(wall + TAP_OTHER);
    }
    const at = out + <usize>index * SINGLE;
    store<f32>(at, <f32>(<f64>load<f32>(at) + sum));
  }
}

/** Byte offset of the sample that came in so many frames before a frame of the block; a block can be read from there. */
function earlyAt(index: i32, frames: i32): usize {
  const first = load<i32>(EARLY_NEXT) - frames;
  const start = first < 0 ? first + load<i32>(EARLY_SAMPLES) : first;
  return <usize>(start + index) * SINGLE;
}

/** Up to where a line begins again, one stretch after the other. */
function addTail(block: usize, count: i32): void {
  let done = 0;
  while (done < count) {
    let stretch = count - done;
    for (let line = 0; line < ROOM_LINES; line++) {
      const at = LINES + <usize>line * LINE_BYTES;
      stretch = min(stretch, load<i32>(at + LINE_SAMPLES) - load<i32>(at + LINE_NEXT));
    }
    addStretch(block + <usize>done * SINGLE, stretch);
    for (let line = 0; line < ROOM_LINES; line++) {
      const at = LINES + <usize>line * LINE_BYTES;
      const next = load<i32>(at + LINE_NEXT) + stretch;
      store<i32>(at + LINE_NEXT, next === load<i32>(at + LINE_SAMPLES) ? 0 : next);
    }
    done += stretch;
  }
}

function addStretch(block: usize, count: i32): void {
  const damping = load<f64>(ROOM);
  const dampings = f64x2.splat(damping);
  const passing = f64x2.splat(1.0 - damping);
  const a = lineAt(0);
  const b = lineAt(1);
  const c = lineAt(2);
  const d = lineAt(3);
  const e = lineAt(4);
  const f = lineAt(5);
  const g = lineAt(6);
  const h = lineAt(7);
  const keptAB = lineDoubles(0, LINE_KEPT);
  const keptCD = lineDoubles(2, LINE_KEPT);
  const keptEF = lineDoubles(4, LINE_KEPT);
  const keptGH = lineDoubles(6, LINE_KEPT);
  let ab = lineDoubles(0, LINE_DAMPED);
  let cd = lineDoubles(2, LINE_DAMPED);
  let ef = lineDoubles(4, LINE_DAMPED);
  let gh = lineDoubles(6, LINE_DAMPED);
  for (let index = 0; index < count; index++) {
    const at = <usize>index * SINGLE;
    ab = f64x2.add(f64x2.mul(f64x2.mul(two(a + at, b + at), keptAB), passing), f64x2.mul(ab, dampings));
    cd = f64x2.add(f64x2.mul(f64x2.mul(two(c + at, d + at), keptCD), passing), f64x2.mul(cd, dampings));
    ef = f64x2.add(f64x2.mul(f64x2.mul(two(e + at, f + at), keptEF), passing), f64x2.mul(ef, dampings));
    gh = f64x2.add(f64x2.mul(f64x2.mul(two(g + at, h + at), keptGH), passing), f64x2.mul(gh, dampings));
    // One after the other, as sums of doubles depend on their order.
    let sum = f64x2.extract_lane(ab, 0) + f64x2.extract_lane(ab, 1);
    sum = sum + f64x2.extract_lane(cd, 0) + f64x2.extract_lane(cd, 1);
    sum = sum + f64x2.extract_lane(ef, 0) + f64x2.extract_lane(ef, 1);
    sum = sum + f64x2.extract_lane(gh, 0) + f64x2.extract_lane(gh, 1);
    const shared = f64x2.splat(0.25 * sum);
    const from = block + at;
    const sent = two(ROOM_LEFT + from, ROOM_RIGHT + from);
    put(a + at, b + at, f64x2.add(f64x2.sub(ab, shared), sent));
    put(c + at, d + at, f64x2.sub(f64x2.sub(cd, shared), sent));
    put(e + at, f + at, f64x2.add(f64x2.sub(ef, shared), sent));
    put(g + at, h + at, f64x2.sub(f64x2.sub(gh, shared), sent));
    const tail = f64x2.mul(f64x2.sub(f64x2.add(f64x2.sub(ab, cd), ef), gh), f64x2.splat(TAIL_LEVEL));
    put(OUT_LEFT + from, OUT_RIGHT + from, f64x2.add(two(OUT_LEFT + from, OUT_RIGHT + from), tail));
  }
  putLineDoubles(0, ab);
  putLineDoubles(2, cd);
  putLineDoubles(4, ef);
  putLineDoubles(6, gh);
}

function lineAt(line: i32): usize {
  const at = LINES + <usize>line * LINE_BYTES;
  return <usize>load<i32>(at) + <usize>load<i32>(at + LINE_NEXT) * SINGLE;
}

function lineDoubles(line: i32, offset: usize): v128 {
  const at = LINES + <usize>line * LINE_BYTES + offset;
  return f64x2.replace_lane(f64x2.splat(load<f64>(at)), 1, load<f64>(at + LINE_BYTES));
}

function putLineDoubles(line: i32, damped: v128): void {
  const at = LINES + <usize>line * LINE_BYTES + LINE_DAMPED;
  store<f64>(at, f64x2.extract_lane(damped, 0));
  store<f64>(at + LINE_BYTES, f64x2.extract_lane(damped, 1));
}

function two(one: usize, other: usize): v128 {
  return f64x2.promote_low_f32x4(v128.load32_lane(other, v128.load32_zero(one), 1));
}

function put(one: usize, other: usize, samples: v128): void {
  const singles = f32x4.demote_f64x2_zero(samples);
  v128.store32_lane(one, singles, 0);
  v128.store32_lane(other, singles, 1);
}

function pairAt(at: usize): v128 {
  return f64x2.promote_low_f32x4(v128.load64_zero(at));
}

function addPair(at: usize, samples: v128): void {
  v128.store64_lane(at, f32x4.demote_f64x2_zero(f64x2.add(pairAt(at), samples)), 0);
}
