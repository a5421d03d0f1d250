"use client";

import { DEFAULT_BARS, MAX_LOOP_BARS } from "@/core/beat/new-beat";
import { groupsOf, meter as toMeter, OFFERED_METERS, parseGroups, type Meter } from "@/core/time/meter";
import { formatPosition } from "@/core/time/position";
import type { Ticks } from "@/core/time/ticks";
import { NumberField } from "../common/number-field";
import { useBeat, useOpenPattern, useOpenSpan, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { GROUPINGS } from "./groupings";
import styles from "./top-strip.module.scss";

const name = ({ beats, unit }: Meter) => `${beats}/${unit}`;

/** Meter and loop: bars of what, felt how, and the stretch that goes round where it is not all. */
export function LoopLength() {
  const workspace = useWorkspace();
  const { meter } = useBeat();
  const { bars } = useOpenPattern();
  const span = useOpenSpan();
  const place = useWorkspaceState((state) => state.place);
  const region = useWorkspaceState(({ regions }) => regions[place.patternId] !== undefined);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const meters = OFFERED_METERS.some((offered) => name(offered) === name(meter))
    ? OFFERED_METERS
    : [meter, ...OFFERED_METERS];
  const groupings = GROUPINGS[name(meter)] ?? [];
  const grouping = groupsOf(meter).join("+");
  return (
    <div className={styles.group}>
      <div className={styles.row}>
        <select
          className={`form-select numerals ${styles.select}`}
          aria-label="Meter"
          value={name(meter)}
          disabled={readOnly}
          onChange={(event) => {
            const [beats, unit] = event.currentTarget.value.split("/").map(Number);
            workspace.setMeter(toMeter(beats!, unit!));
          }}
        >
          {meters.map((offered) => (
            <option key={name(offered)}>{name(offered)}</option>
          ))}
        </select>
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
        {groupings.length > 0 && (
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
        )}
        {region && (
          <button
            type="button"
            className={`btn btn-sm numerals ${styles.region}`}
            aria-label="Loop the whole pattern"
            title="A region goes round; click for the whole pattern"
            onClick={() => workspace.patterns.setRegion(undefined)}
          >
            {formatPosition(span.startTicks, meter).slice(0, -4)}–
            {formatPosition((span.startTicks + span.lengthTicks) as Ticks, meter).slice(0, -4)} ✕
          </button>
        )}
      </div>
    </div>
  );
}
