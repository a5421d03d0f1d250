import { LoopMotion } from "./loop-motion";

const TURN: Keyframe[] = [{ transform: "rotate(0deg)" }, { transform: "rotate(360deg)" }];
const OTHER: Keyframe[] = [{ transform: "translateX(0)" }, { transform: "translateX(90px)" }];

/** Stands in for an element of the page: it notes what it is asked to do. */
class AnimatedElement {
  readonly animations: FakeAnimation[] = [];

  animate(keyframes: Keyframe[], { duration }: { duration: number }): FakeAnimation {
    this.animations.push(new FakeAnimation(keyframes, duration));
    return this.animations.at(-1)!;
  }
}

class FakeAnimation {
  startTime: number | null = null;
  cancelled = false;

  constructor(
    readonly keyframes: Keyframe[],
    public duration: number,
  ) {}

  readonly effect = {
    getTiming: () => ({ duration: this.duration }),
    updateTiming: ({ duration }: { duration: number }) => (this.duration = duration),
  };

  cancel(): void {
    this.cancelled = true;
  }
}

function followed() {
  const element = new AnimatedElement();
  const motion = new LoopMotion();
  const follow = (share: number, nowMs: number, durationMs = 2000, keyframes = TURN) =>
    motion.follow(element as unknown as Element, { keyframes, durationMs }, share, nowMs);
  return { element, motion, follow };
}

test("a motion starts where the loop is, and is left alone as long as it keeps to it, lap after lap", () => {
  const { element, follow } = followed();
  follow(0.25, 10_000);
  expect(element.animations[0]!.startTime).toBe(9500);
  follow(0.5 + 0.005, 10_500);
  follow(0.001, 11_500);
  follow(0.999, 13_500);
  expect(element.animations).toHaveLength(1);
  expect(element.animations[0]!.startTime).toBe(9500);
});

test("what is astray is put right, by the shorter way round", () => {
  const { element, follow } = followed();
  follow(0, 10_000);
  follow(0.26, 10_500);
  expect(element.animations[0]!.startTime).toBe(10_500 - 520);
  follow(0.99, 12_000);
  expect(element.animations[0]!.startTime).toBe(12_000 - 1980);
});

test("another tempo goes on from where the loop is, another way begins anew, and a stop leaves nothing moving", () => {
  const { element, motion, follow } = followed();
  follow(0.5, 10_000);
  follow(0.5, 10_000, 1000);
  expect(element.animations).toHaveLength(1);
  expect(element.animations[0]).toMatchObject({ duration: 1000, startTime: 9500 });
  follow(0.5, 10_000, 1000, OTHER);
  expect(element.animations[0]!.cancelled).toBe(true);
  expect(element.animations[1]).toMatchObject({ keyframes: OTHER, startTime: 9500, cancelled: false });
  motion.stop();
  expect(element.animations[1]!.cancelled).toBe(true);
});
