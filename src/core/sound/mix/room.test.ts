import { createHash } from "node:crypto";
import type { Kernel } from "../kernel/kernel";
import { BLOCK_FRAMES } from "../kernel/layout";
import { newKernel } from "../kernel/new-kernel";
import { Room, ROOM_TAIL_SECONDS } from "./room";

/** What comes back of one sample that is sent, from the left or both sides, block by block. */
function echoOf(
  rate: number,
  left = 1,
  right = 0,
  kernel: Kernel = newKernel(rate),
  blocks = Math.ceil((ROOM_TAIL_SECONDS * rate) / BLOCK_FRAMES) + 4,
) {
  const room = new Room(rate, kernel);
  const { buffers } = kernel;
  const heard = { left: new Float32Array(blocks * BLOCK_FRAMES), right: new Float32Array(blocks * BLOCK_FRAMES) };
  for (let block = 0; block < blocks; block++) {
    if (block === 0) {
      room.receive(BLOCK_FRAMES);
      buffers.room.left[0] = left;
      buffers.room.right[0] = right;
    }
    buffers.out.left.fill(0);
    buffers.out.right.fill(0);
    room.process(BLOCK_FRAMES);
    heard.left.set(buffers.out.left, block * BLOCK_FRAMES);
    heard.right.set(buffers.out.right, block * BLOCK_FRAMES);
  }
  return heard;
}

const energy = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);

test("every machine has the same room", () => {
  const { left, right } = echoOf(44_100, 1, 0.5);
  const bytes = createHash("sha256").update(new Uint8Array(left.buffer)).update(new Uint8Array(right.buffer));
  expect(bytes.digest("hex").slice(0, 16)).toBe("6aadfce2f0af19c5");
});

test.each([44_100, 48_000, 96_000])(
  "at %i Hz: early reflections differ left and right, the tail falls by 60 dB in 0.75 s",
  (rate) => {
    const { left, right } = echoOf(rate, 1, 1);
    const early = (samples: Float32Array) =>
      [...samples.keys()].filter((frame) => frame < 0.022 * rate && samples[frame] !== 0);
    expect(early(left).length).toBeGreaterThanOrEqual(4);
    expect(early(left)).not.toEqual(early(right));
    // Between 60 and 360 ms behind it, by how much 300 ms are softer (ISO 3382-1's decay, from memory).
    const level = (seconds: number) => 10 * Math.log10(energy(left.subarray(seconds * rate, (seconds + 0.1) * rate)));
    const seconds = (60 * 0.3) / (level(0.06) - level(0.36));
    expect(seconds).toBeGreaterThan(0.45);
    expect(seconds).toBeLessThan(0.8);
  },
);

test("the tail is diffuse: its sides have little in common, and it is gone when the room goes to rest", () => {
  const { left, right } = echoOf(48_000, 1, 1);
  const [a, b] = [left.subarray(4800, 24_000), right.subarray(4800, 24_000)];
  const common = a.reduce((sum, x, frame) => sum + x * b[frame]!, 0) / Math.sqrt(energy(a) * energy(b));
  expect(Math.abs(common)).toBeLessThan(0.4);
  const last = left.subarray(Math.floor((ROOM_TAIL_SECONDS - 0.1) * 48_000));
  expect(last.reduce((most, x) => Math.max(most, Math.abs(x)), 0)).toBeLessThan(1e-6);
  expect(left.at(-1)).toBe(0);
});

test("a stroke comes back with about its own energy, from both sides; nothing sent is nothing", () => {
  const { left, right } = echoOf(48_000, 1, 0);
  const back = 10 * Math.log10(energy(left) + energy(right));
  expect(back).toBeGreaterThan(-4);
  expect(back).toBeLessThan(2);
  expect(energy(right)).toBeGreaterThan(0.1 * energy(left));
  const nothing = echoOf(48_000, 0, 0);
  expect([energy(nothing.left), energy(nothing.right)]).toEqual([0, 0]);
});
