import type { PatternRef } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import { firstPlace } from "@/core/beat/new-beat";
import { bringBack } from "@/core/recover/bring-back";
import { seededRandom } from "@/core/random";
import type { PlayedHit } from "@/inputs/played-hit";
import { STAND_IN_PARTS, type StandInPart } from "@/inputs/stand-in/stand-in-score";
import { ROUND, SOAKED } from "../../../tests/support/seeds";
import { BEAT_MS, FRAMES_PER_MS, session, takeTestTime } from "../../../tests/support/session";
import { Workspace } from "./workspace";

/** With a seed of its own for what is played when; 120 BPM, two bars. */
const SEED = 5 + ROUND;
const EVENING_MINUTES = SOAKED ? 30 : 10;
const LAP_TICKS = 7680;
const TICKS_PER_MS = 960 / BEAT_MS;
/** A stroke's time goes through the audio clock and back. */
const TICK_SLACK = 0.01;
const MS_SLACK = 0.001;

/** One thing that is done in the evening. */
type Kind = "free" | "along" | "practice" | "recorded";
interface Phrase {
  readonly kind: Kind;
  readonly startMs: number;
  readonly strokes: readonly PlayedHit[];
}

takeTestTime();

/** The stand-in drummer plays free or with the loop, with pauses, practice, record and reloads; as it was struck. */
async function evening() {
  const random = seededRandom(SEED);
  const struck: PlayedHit[] = [];
  const strike = Workspace.prototype.strike;
  jest.spyOn(Workspace.prototype, "strike").mockImplementation(function (this: Workspace, hit) {
    struck.push(hit);
    strike.call(this, hit);
  });
  const parts = Object.keys(STAND_IN_PARTS) as StandInPart[];
  const pick = <T>(all: readonly T[]) => all[Math.floor(random() * all.length)]!;
  const phrases: Phrase[] = [];
  let page = session();
  let nowMs = 0;
  let reloads = 0;
  const goOn = (ms: number) => page.goTo((nowMs += ms));
  while (nowMs < EVENING_MINUTES * 60_000) {
    const kind = pick<Kind>(["free", "free", "along", "practice", "recorded"]);
    const { workspace } = page;
    const from = struck.length;
    const standIn = { ...workspace.state.settings.standIn, part: pick(parts), follows: kind !== "free" };
    workspace.setSettings({ standIn: { ...standIn, bpm: 80 + 60 * random(), doubles: 0.05, spreadMs: 12 } });
    if (kind === "along") workspace.command("play", true, nowMs);
    if (kind !== "free" && kind !== "along") workspace.command("record", true, nowMs);
    if (kind === "practice") workspace.command("practice", true, nowMs);
    workspace.setSettings({ standInOn: true });
    // It is fetched when it is brought in.
    await new Promise(setImmediate);
    goOn(6000 + 20_000 * random());
    // Sound begins with a block of samples.
    const startMs = (workspace.playback.audibleAt(nowMs)?.anchor.frame ?? 0) / FRAMES_PER_MS;
    workspace.setSettings({ standInOn: false });
    if (kind !== "free") workspace.command("play", true, nowMs);
    if (struck.length > from) phrases.push({ kind, startMs, strokes: struck.slice(from) });
    if (kind === "recorded") workspace.document.undo();
    goOn(4000 + 8000 * random());
    if (random() < 0.2) {
      reloads++;
      await workspace.close();
      page = session({}, 0, { beat: workspace.beat, repository: page.repository, atMs: nowMs });
      await page.workspace.echoes.open();
    }
  }
  await page.workspace.close();
  const last = session({}, 0, { beat: page.workspace.beat, repository: page.repository, atMs: nowMs });
  await last.workspace.echoes.open();
  return { struck, phrases, reloads, workspace: last.workspace };
}

test("an evening of the stand-in drummer: every hit is there, phrase by phrase, and what was played along returns to the tick", async () => {
  const { struck, phrases, reloads, workspace } = await evening();
  expect(struck.length).toBeGreaterThan(130 * EVENING_MINUTES);
  expect(reloads).toBeGreaterThan(EVENING_MINUTES / 6);
  expect(new Set(phrases.map(({ kind }) => kind)).size).toBe(4);

  const { echoes, beat } = { echoes: workspace.echoes.refresh(), beat: workspace.beat };
  const inTime = (hits: readonly PlayedHit[]) => hits.toSorted((a, b) => a.timeMs - b.timeMs || a.lane - b.lane);
  const what = ({ lane, velocity, device, masked }: PlayedHit) => [lane, velocity, device, masked];
  /** The same strokes, at the same moments but for the last figures of a time of day. */
  const expectSame = (echoed: readonly PlayedHit[], played: readonly PlayedHit[]) => {
    expect(inTime(echoed).map(what)).toEqual(inTime(played).map(what));
    const off = inTime(echoed).map(({ timeMs }, at) => timeMs - performance.timeOrigin - inTime(played)[at]!.timeMs);
    expect(Math.max(...off.map(Math.abs))).toBeLessThan(MS_SLACK);
  };
  expect(echoes).toHaveLength(phrases.length);
  expect(echoes.reduce((sum, { hits }) => sum + hits.length, 0)).toBe(struck.length);
  phrases.forEach(({ strokes }, index) =>
    expectSame(
      echoes[index]!.hits.map(({ pad, ...hit }) => ({ ...hit, lane: pad })),
      strokes,
    ),
  );

  const patternRef: PatternRef = firstPlace(beat);
  phrases.forEach(({ kind, startMs, strokes }, index) => {
    const { hits } = echoes[index]!;
    expect(hits.every(({ along }) => (along !== undefined) === (kind !== "free"))).toBe(true);
    expect(hits.every(({ along }) => (along?.recorded ?? false) === (kind === "recorded"))).toBe(true);
    if (kind === "free" || kind === "recorded") return;
    const back = bringBack(beat, patternRef, echoes[index]!, {
      kind: "along",
      fold: "unrolled",
      into: "new",
      quantized: false,
    });
    const placed = findPattern(back.beat, back.patternRef).passes[0]!.hits;
    const firstLap = Math.min(...hits.map(({ along }) => along!.lap));
    const meant = strokes
      .map(({ lane, timeMs }) => ({ pad: lane, ticks: (timeMs - startMs) * TICKS_PER_MS - firstLap * LAP_TICKS }))
      .sort((a, b) => a.ticks - b.ticks || a.pad - b.pad);
    const found = placed.toSorted((a, b) => a.played.ticks - b.played.ticks || a.lane - b.lane);
    expect(found.map(({ lane }) => lane)).toEqual(meant.map(({ pad: lane }) => lane));
    found.forEach(({ played: { ticks } }, at) => expect(Math.abs(ticks - meant[at]!.ticks)).toBeLessThan(TICK_SLACK));
  });
  await workspace.close();
});
