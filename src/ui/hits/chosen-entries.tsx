"use client";

import { lengthText, offsetText, placeText, type HitRow } from "@/core/editing/hit-rows";
import type { TypedField } from "@/core/editing/typed/typed-change";
import { useOfBeat, useWorkspace } from "../workspace/use-workspace";
import { EntryField } from "./entry-field";
import styles from "./hits.module.scss";
import { typeInto } from "./typed";

/** Place, velocity, length and lateness of what is chosen, to be typed. */
export default function ChosenEntries({
  rows,
  disabled,
}: {
  readonly rows: readonly HitRow[];
  readonly disabled: boolean;
}) {
  const { hits } = useWorkspace();
  const meter = useOfBeat((beat) => beat.meter);
  const first = rows[0];
  const type = (field: TypedField) => (typed: string) => typeInto(hits, field, typed);
  return (
    <>
      <EntryField
        label="Place"
        mark="at"
        className={styles.place!}
        title="2.3.480, +10ms, -1/16; arrow keys: a line"
        shown={first ? placeText(first.ticks, meter) : ""}
        disabled={disabled}
        onType={type("place")}
        onNudge={(by) => hits.moveByLines(-Math.sign(by))}
      />
      <EntryField
        label="Velocity of hits"
        mark="vel."
        title="1 to 127, +10, 80%; arrow keys: louder, softer"
        shown={rangeText(rows.map(({ velocity }) => velocity))}
        disabled={disabled}
        onType={type("velocity")}
        onNudge={(by) => hits.shiftVelocity(by)}
      />
      <EntryField
        label="Length of hits"
        mark="long"
        title="1/16, 240 ticks, 100ms, +1/32"
        shown={common(rows.map(({ lengthTicks }) => lengthText(lengthTicks)))}
        disabled={disabled}
        onType={type("length")}
        onNudge={(by) => hits.stretchBy(60 * by)}
      />
      <EntryField
        label="Late in ms"
        mark="ms"
        title="12 is late, -8 early; arrow keys: 1 ms"
        shown={common(rows.map(({ offMs }) => offsetText(offMs)))}
        disabled={disabled}
        onType={type("offset")}
        onNudge={(by) => hits.moveByMs(by)}
      />
    </>
  );
}

/** @example rangeText([80, 100, 90]) // "80–100" */
function rangeText(values: readonly number[]): string {
  if (values.length === 0) return "";
  const [least, most] = values.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [127, 1]);
  return least === most ? String(least) : `${least}–${most}`;
}

function common(texts: readonly string[]): string {
  return texts.every((text) => text === texts[0]) ? (texts[0] ?? "") : "…";
}
