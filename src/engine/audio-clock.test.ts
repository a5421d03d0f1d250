import { AudioClock } from "./audio-clock";

/** A clock of the page that is 500 ms ahead of the sound, read every 10 ms. */
function read(clock: AudioClock, reading: number, offSeconds = 0): void {
  clock.observe(reading * 0.01 + offSeconds, reading * 10 + 500);
}

test("nothing is known before the first reading, and one is enough", () => {
  const clock = new AudioClock();
  expect(clock.audibleSecondsAt(0)).toBeUndefined();
  read(clock, 3);
  expect(clock.audibleSecondsAt(540)).toBeCloseTo(0.04, 9);
});

test("readings that are off now and then move nothing; what shifts for good is followed", () => {
  const clock = new AudioClock();
  for (let reading = 0; reading < 10; reading++) read(clock, reading, reading % 4 === 0 ? 0.004 : 0);
  expect(clock.audibleSecondsAt(600)).toBeCloseTo(0.1, 9);
  for (let reading = 10; reading < 13; reading++) read(clock, reading, -0.01);
  expect(clock.audibleSecondsAt(700)).toBeCloseTo(0.19, 9);
});

test("a jump is believed when the next reading says the same, wherever it leads", () => {
  const clock = new AudioClock();
  for (let reading = 0; reading < 5; reading++) read(clock, reading);
  read(clock, 5, 50);
  expect(clock.audibleSecondsAt(600)).toBeCloseTo(0.1, 9);
  read(clock, 6);
  read(clock, 7, 50);
  read(clock, 8, -2);
  expect(clock.audibleSecondsAt(600)).toBeCloseTo(0.1, 9);
  read(clock, 9, -2);
  expect(clock.audibleSecondsAt(600)).toBeCloseTo(-1.9, 9);
  read(clock, 10, -2.0001);
  read(clock, 11, -1.9999);
  expect(clock.audibleSecondsAt(600)).toBeCloseTo(-1.9, 9);
});

test("a delay that grows by a tenth of a second counts with the second reading, and is not trusted before", () => {
  const clock = new AudioClock();
  for (let reading = 0; reading < 8; reading++) read(clock, reading);
  expect(clock.settled).toBe(true);
  read(clock, 8, -0.1);
  expect(clock.settled).toBe(false);
  read(clock, 9, -0.1);
  expect(clock.settled).toBe(true);
  expect(clock.audibleSecondsAt(600)).toBeCloseTo(0, 9);
});

test("after the sound stood still nothing is known until two readings agree, and strokes of the silence are where it stood", () => {
  const clock = new AudioClock();
  for (let reading = 0; reading < 8; reading++) read(clock, reading);
  clock.reset(600);
  expect([clock.settled, clock.audibleSecondsAt(600)]).toEqual([false, undefined]);
  // It goes on after a second and a half: the audio clock is that much behind.
  read(clock, 160, -1.5);
  expect(clock.settled).toBe(false);
  read(clock, 161, -1.5);
  expect(clock.settled).toBe(true);
  expect(clock.audibleSecondsAt(2110)).toBeCloseTo(0.11, 9);
  expect(clock.audibleSecondsAt(1000)).toBeCloseTo(0.1, 9);
  expect(clock.audibleSecondsAt(2100)).toBeCloseTo(0.1, 9);
});
