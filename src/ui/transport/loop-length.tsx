"use client";

import { DEFAULT_BARS, MAX_LOOP_BARS } from "@/core/beat/new-beat";
import { groupsOf, meter as toMeter, OFFERED_METERS, parseGroups, type Meter } from "@/core/time/meter";
import { formatPosition } from "@/core/time/position";
import { asTicks } from "@/core/time/ticks";
import { NumberField } from "../common/fields/number-field";
import { useOfBeat, useOfPattern, useOpenSpan, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { GROUPINGS } from "./groupings";
import styles from "./top-strip.module.scss";

const name = ({ beats, unit }: Meter) => `${beats}/${unit}`;

/** Meter and loop: bars of what, felt how, and the stretch that goes round where it is not all. */
export function LoopLength() {
  const workspace = useWorkspace();
  const bars = useOfPattern(({ bars }) => bars);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <div className={styles.group}>
      <div className={styles.row}>
        <MeterChoice />
        <NumberField
          label="Loop length in bars"
          unit={bars === 1 ? "bar" : "bars"}
          inline
          value={bars}
          min={1}
          max={Math.max(MAX_LOOP_BARS, bars)}
          step={1}
          standard={DEFAULT_BARS}
          disabled={readOnly}
          onChange={(next, gesture) => workspace.setBars(Math.round(next), gesture)}
        />
      </div>
      <div className={styles.row}>
        <GroupingChoice />
        <RegionButton />
      </div>
    </div>
  );
}

function MeterChoice() {
  const workspace = useWorkspace();
  const meter = useOfBeat(({ meter }) => meter);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const offered = OFFERED_METERS.some((one) => name(one) === name(meter)) ? OFFERED_METERS : [meter, ...OFFERED_METERS];
  return (
    <select
      className={`form-select numerals ${styles.select}`}
      aria-label="Meter"
      value={name(meter)}
      disabled={readOnly}
      onChange={({ currentTarget: { value } }) => {
        const chosen = offered.find((one) => name(one) === value);
        if (chosen) workspace.setMeter(toMeter(chosen.beats, chosen.unit));
      }}
    >
      {offered.map((one) => (
        <option key={name(one)}>{name(one)}</option>
      ))}
    </select>
  );
}

/** How the bar is felt, where its meter can be felt in several ways. */
function GroupingChoice() {
  const workspace = useWorkspace();
  const meter = useOfBeat(({ meter }) => meter);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const groupings = GROUPINGS[name(meter)] ?? [];
  const grouping = groupsOf(meter).join("+");
  if (groupings.length === 0) return null;
  return (
    <select
      className={`form-select numerals ${styles.select}`}
      aria-label="Grouping"
      value={grouping}
      disabled={readOnly}
      onChange={(event) => workspace.setMeter(parseGroups(event.currentTarget.value, meter))}
    >
      {[...new Set([grouping, ...groupings])].map((choice) => (
        <option key={choice}>{choice}</option>
      ))}
    </select>
  );
}

function RegionButton() {
  const { patterns } = useWorkspace();
  const meter = useOfBeat(({ meter }) => meter);
  const { startTicks, lengthTicks } = useOpenSpan();
  const patternRef = useWorkspaceState((state) => state.patternRef);
  const region = useWorkspaceState(({ regions }) => regions[patternRef.patternId] !== undefined);
  if (!region) return null;
  const barAndBeat = (ticks: number) => formatPosition(asTicks(ticks), meter).slice(0, -4);
  return (
    <button
      type="button"
      className={`btn btn-sm numerals ${styles.region}`}
      aria-label="Loop the whole pattern"
      title="A region goes round; click for the whole pattern"
      onClick={() => patterns.setRegion(undefined)}
    >
      {barAndBeat(startTicks)}–{barAndBeat(startTicks + lengthTicks)} ✕
    </button>
  );
}
