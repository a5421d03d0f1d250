import { PictureLoop } from "./picture-loop";

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test("as long as something moves pictures come 25 times a second, and then none", () => {
  const loop = new PictureLoop();
  let left = 20;
  const drawnAtMs: number[] = [];
  loop.add((nowMs) => {
    drawnAtMs.push(nowMs);
    return --left > 0;
  });
  jest.advanceTimersByTime(5000);
  expect(drawnAtMs).toHaveLength(20);
  const gaps = drawnAtMs.slice(1).map((atMs, index) => atMs - drawnAtMs[index]!);
  expect(Math.min(...gaps)).toBeGreaterThanOrEqual(40);
  expect(jest.getTimerCount()).toBe(0);
});

test("a wake at rest is drawn at once, many at once are one picture", () => {
  const loop = new PictureLoop();
  let drawn = 0;
  loop.add(() => {
    drawn++;
    return false;
  });
  jest.advanceTimersByTime(1000);
  expect(drawn).toBe(1);
  for (let wakes = 0; wakes < 10; wakes++) loop.wake();
  jest.advanceTimersByTime(1);
  expect(drawn).toBe(2);
  loop.wake();
  jest.advanceTimersByTime(30);
  expect(drawn).toBe(2);
  jest.advanceTimersByTime(1000);
  expect(drawn).toBe(3);
});

test("a loop that is closed draws nothing any more", () => {
  const loop = new PictureLoop();
  let drawn = 0;
  loop.add(() => {
    drawn++;
    return true;
  });
  loop.close();
  jest.advanceTimersByTime(1000);
  expect(drawn).toBe(0);
  expect(jest.getTimerCount()).toBe(0);
});
