import { LoopMotion } from "../common/loop-motion";

/** The hand goes round in every lap; the trail behind it is two halves of a ring, of which each comes from behind the other half. */
const TURNS = {
  hand: [{ transform: "rotate(0deg)" }, { transform: "rotate(360deg)" }],
  right: [{ transform: "rotate(0deg)" }, { transform: "rotate(180deg)", offset: 0.5 }, { transform: "rotate(180deg)" }],
  left: [{ transform: "rotate(0deg)" }, { transform: "rotate(0deg)", offset: 0.5 }, { transform: "rotate(180deg)" }],
} satisfies Readonly<Record<string, Keyframe[]>>;

/** A part of the dial that turns: the hand, the right or the left half of its trail. */
export type TurningPart = keyof typeof TURNS;

/** Turns all of the dial that turns. */
export class DialTurning {
  private readonly parts = Object.entries(TURNS).map(([part, keyframes]) => ({
    part,
    keyframes,
    motion: new LoopMotion(),
  }));

  /** @param share of a turn @param durationMs of a turn */
  follow(face: Element, share: number, durationMs: number, nowMs: number): void {
    for (const { part, keyframes, motion } of this.parts)
      motion.follow(face.querySelector(`[data-turns=${part}]`)!, { keyframes, durationMs }, share, nowMs);
  }

  stop(): void {
    for (const { motion } of this.parts) motion.stop();
  }
}
