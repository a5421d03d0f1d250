import { echoOf, type Echo } from "@/core/recover/echo";
import { missingHits } from "@/core/recover/missing-hits";
import type { WorkspaceStore } from "../state/controller";
import { EchoController } from "./echo-controller";
import type { EchoMemory } from "./echo-memory";
import { isAlong, openedEcho } from "../state/open-echo";
import type { ReadingSession } from "./reading-session";
import type { Recall } from "./recall";

export interface EchoReviewDeps {
  readonly echoes: EchoMemory;
  readonly readings: ReadingSession;
  readonly recall: Recall;
}

/** Which phrase of the lookback is looked at, and how much of it. */
export class EchoReview extends EchoController {
  constructor(
    store: WorkspaceStore,
    private readonly deps: EchoReviewDeps,
  ) {
    super(store);
  }

  /** Looks at a phrase; at none with undefined. */
  open(echo: Echo | undefined): void {
    this.deps.recall.leave();
    this.deps.readings.begin();
    this.set({ openEcho: echo && openedEcho(echo, this.beat) });
    if (echo && !isAlong(echo, this.beat)) void this.deps.readings.read();
  }

  /** Somebody plays on after a phrase came back: it is done with, and the newest is the next one to be meant. */
  playedOn(): void {
    if (this.deps.recall.isBack) this.open(undefined);
  }

  /** Goes to the phrase before or after the one that is open, from the newest on. */
  walk(by: "older" | "newer"): void {
    const { openEcho } = this.state;
    const echoes = this.deps.echoes.refresh();
    const at = echoes.findIndex(({ id }) => id === openEcho?.whole.id);
    const next = at < 0 ? echoes.length - 1 : Math.max(0, Math.min(echoes.length - 1, at + (by === "older" ? -1 : 1)));
    this.set({ stack: "echoes" });
    if (echoes[next] && next !== at) this.open(echoes[next]);
  }

  /** All of it is in the beat. */
  isThere(echo: Echo): boolean {
    return missingHits(echo, this.beat).length === 0;
  }

  /** Leaves out what was played before and after. @param from the first hit that stays. @param to the first that goes */
  trim(from: number, to: number): void {
    const { openEcho } = this.state;
    if (!openEcho || from >= to) return;
    const first = Math.max(0, from);
    this.change({ from: first, echo: echoOf(openEcho.whole.hits.slice(first, to)) });
    if (!isAlong(openEcho.whole, this.beat)) void this.deps.readings.read();
  }

  /** Leaves out, or takes in again, hits at an end: from where it is now, as two keys may come within one picture. */
  stepEnd(end: "first" | "last", by: number): void {
    const { openEcho } = this.state;
    if (!openEcho) return;
    const { from, echo, whole } = openEcho;
    const to = from + echo.hits.length;
    if (end === "first") this.trim(from + by, to);
    else this.trim(from, Math.min(whole.hits.length, to + by));
  }
}
