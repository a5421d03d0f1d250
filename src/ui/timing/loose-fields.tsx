"use client";

import { Dice5 } from "../icons/generated/dice-5";
import type { Looseness } from "@/core/beat/feel";
import { secondsToTicks, ticksToSeconds } from "@/core/time/tempo";
import { asTicks, asSeconds } from "@/core/time/ticks";
import { NumberField } from "../common/fields/number-field";
import { useOfBeat, useOfPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";

const STEADY: Looseness = { ticks: 0, velocity: 0, seed: 1 };
const MAX_LOOSE_MS = 40;
const MAX_SEED = 1_000_000;

/** How loosely the pattern is played, in time and in velocity. */
export function LooseFields() {
  const workspace = useWorkspace();
  const bpm = useOfBeat(({ bpm }) => bpm);
  const looseness = useOfPattern(({ looseness }) => looseness) ?? STEADY;
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const change = (next: Partial<Looseness>, gesture?: string) => {
    const changed = (now: Looseness = STEADY) => {
      const loose = { ...now, ...next };
      return loose.ticks === 0 && loose.velocity === 0 ? undefined : loose;
    };
    workspace.timing.setFeel((now) => ({ looseness: changed(now.looseness) }), "Looseness", gesture);
  };
  const ms = Number((ticksToSeconds(asTicks(looseness.ticks), bpm) * 1000).toFixed(1));
  return (
    <>
      <NumberField
        label="Loose"
        unit="ms"
        unitAbove
        value={ms}
        decimals={Number.isInteger(ms) ? 0 : 1}
        min={0}
        max={MAX_LOOSE_MS}
        step={1}
        standard={0}
        disabled={readOnly}
        onChange={(value, gesture) => change({ ticks: secondsToTicks(asSeconds(value / 1000), bpm) }, gesture)}
      />
      <NumberField
        label="Loose vel"
        value={looseness.velocity}
        min={0}
        max={64}
        step={1}
        standard={0}
        disabled={readOnly}
        onChange={(velocity, gesture) => change({ velocity }, gesture)}
      />
      <button
        type="button"
        className="btn btn-sm"
        aria-label="Roll the looseness again"
        title="Roll the looseness again"
        disabled={readOnly || (looseness.ticks === 0 && looseness.velocity === 0)}
        onClick={() => change({ seed: (looseness.seed % MAX_SEED) + 1 })}
      >
        <Dice5 aria-hidden />
      </button>
    </>
  );
}
