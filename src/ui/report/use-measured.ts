"use client";

import { useDeferredValue, useMemo } from "react";
import { advisePattern } from "@/core/analysis/pattern-advice";
import { timingSamples, type TimingSample } from "@/core/analysis/timing-stats";
import { openPasses, type Pass, type Pattern } from "@/core/beat/beat";
import type { Swing } from "@/core/beat/feel";
import { STRAIGHT } from "@/core/timing/swing";
import { useBeat, useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";

export interface Measured {
  readonly pattern: Pattern;
  /** The swing that the playing has by itself, if it has one. */
  readonly swing: Swing | undefined;
  readonly samples: readonly TimingSample[];
  /** Those that have hits. */
  readonly passes: readonly Pass[];
}

/** How far every hit of the open pattern is from its line. @param straight from straight lines, also where the playing is swung */
export function useMeasured(straight: boolean): Measured {
  const beat = useBeat();
  const pattern = useDeferredValue(useOpenPattern());
  const patternRef = useWorkspaceState((state) => state.patternRef);
  const { bpm, meter, inputQuantize } = beat;
  const advice = advisePattern(beat, patternRef, { kind: "all" });
  const swing = advice?.family === "swung" ? { ratio: advice.swingPercent / 100, unit: advice.swingUnit! } : undefined;
  const { ratio, unit } = (!straight && swing) || STRAIGHT;
  const samples = useMemo(
    () => timingSamples(pattern, meter, bpm, inputQuantize, { ratio, unit }),
    [pattern, meter, bpm, inputQuantize, ratio, unit],
  );
  const passes = openPasses(pattern).filter(({ hits }) => hits.length > 0);
  return { pattern, swing, samples, passes };
}
