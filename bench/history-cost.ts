import type { Beat, PatternRef } from "../src/core/beat/beat";
import { wholeSpan } from "../src/core/beat/beat";
import { addHits, addPass, findPattern } from "../src/core/beat/edit";
import { commit, startHistory } from "../src/core/beat/history";
import { restoreBeat } from "../src/core/formats/stored-records";
import { eraseSpan } from "../src/core/record/erase";
import type { PlacedStroke } from "../src/core/record/placed-stroke";
import { recordStroke, startRecording } from "../src/core/record/record-stroke";
import type { Ticks } from "../src/core/time/ticks";
import { resolvedHits } from "../src/core/timing/resolve-timing";
import { StepLog } from "../src/store/persistence/rows/step-log";
import type { Row } from "./row";

const STEPS = 200;

/** @param processorMs the processor time of some work, the middle one of several runs */
type Measure = (work: () => void) => number;

/** What erase and replace cost beside very many hits, and what it costs to keep the steps of undo and to take one back. */
export function historyRows(huge: Beat, many: Beat, patternRef: PatternRef, processorMs: Measure): readonly Row[] {
  const erase = eraseCost(huge, patternRef, processorMs);
  const kept = keptSteps(many, patternRef, processorMs);
  return [
    {
      what: "100,000 hits: what goes by in 40 ms of erase, the first stroke of a lap in replace: processor time",
      budget: "< 20 ms, < 20 ms",
      measured: `${erase.sweepMs.toFixed(1)} ms, ${erase.replaceMs.toFixed(1)} ms`,
      kept: erase.sweepMs < 20 && erase.replaceMs < 20,
    },
    {
      what: "10,000 hits, 200 steps: a step more to keep, one of an earlier page taken back: processor time",
      budget: "< 5 ms, < 50 ms",
      measured: `${kept.keepMs.toFixed(1)} ms, ${kept.undoMs.toFixed(1)} ms`,
      kept: kept.keepMs < 5 && kept.undoMs < 50,
    },
  ];
}

function eraseCost(beat: Beat, patternRef: PatternRef, processorMs: Measure) {
  const pattern = findPattern(beat, patternRef);
  const span = wholeSpan(pattern, beat.meter);
  resolvedHits(pattern, beat.meter);
  const sweep = () => eraseSpan(beat, patternRef, new Set([3]), 1000 as Ticks, 1077 as Ticks, span, "grooved");
  const placed: PlacedStroke = {
    ...{ patternRef, segment: 1, bpm: beat.bpm, opens: false, lap: 3, span, timingView: "grooved" },
    ...{ lane: 4, velocity: 90, playedTicks: 500 as Ticks },
  };
  const replace = () => recordStroke(beat, startRecording(patternRef, "replace"), placed);
  return { sweepMs: processorMs(sweep), replaceMs: processorMs(replace) };
}

function keptSteps(beat: Beat, patternRef: PatternRef, processorMs: Measure) {
  const { beat: open, passId } = addPass(beat, patternRef, {
    name: "Pass 2",
    muted: false,
    quantize: beat.inputQuantize,
  });
  const struck = (to: Beat, ticks: number) =>
    addHits(to, patternRef, passId, [
      { lane: 1, played: { ticks: ticks as Ticks, velocity: 90 }, lengthTicks: 60 as Ticks },
    ]);
  let history = startHistory(open);
  const log = new StepLog(history);
  const step = () => {
    history = commit(history, struck(history.present, history.past.length), { label: "lap 1, 1 hit", atMs: 1 });
  };
  const keep = () => {
    const changes = log.changes(history, (one) => one);
    log.written(changes);
    return changes.steps.at(-1)!;
  };
  for (let count = 0; count < STEPS; count++) step();
  keep();
  const keepMs = processorMs(() => {
    step();
    keep();
  });
  step();
  const { back } = keep();
  return { keepMs, undoMs: processorMs(() => void restoreBeat(history.present, back)) };
}
