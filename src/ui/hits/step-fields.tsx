"use client";

import { STEP_ENDS, STEP_INSERTS, type StepEnd, type StepInsert } from "@/core/editing/step-input";
import { lengthText, placeText } from "@/core/editing/hit-rows";
import { parseLength, parseVelocity } from "@/core/editing/typed/typed-entry";
import { useBeat, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { EntryField } from "./entry-field";
import styles from "./hits.module.scss";
import { refusalOf } from "./typed";

const INSERT_NAMES: Readonly<Record<StepInsert, string>> = {
  off: "in place of what is there",
  lane: "pushes its lane on",
  all: "pushes all on",
};
const END_NAMES: Readonly<Record<StepEnd, string>> = { wrap: "goes round", extend: "adds a bar", stop: "stops" };

/** Where the next step goes, what the keys do, and how steps are made. */
export default function StepFields() {
  const { step } = useWorkspace();
  const beat = useBeat();
  const { bars } = useOpenPattern();
  const { at, insert, atEnd, lengthTicks, velocity } = useWorkspaceState((state) => state.step);
  const recording = useWorkspaceState(({ transport }) => transport.writing === "record");
  const frame = { meter: beat.meter, bpm: beat.bpm, bars };
  return (
    <>
      <span className={styles.cursor} role="status">
        {recording ? "Record is on: strokes are recorded" : `Step at ${placeText(at, beat.meter)}`}
      </span>
      <span className={styles.says}>strike pads · → rest · ← back · Backspace takes back · Shift → ties</span>
      <SelectField
        label="A step"
        value={insert}
        names={INSERT_NAMES}
        of={STEP_INSERTS}
        onChange={(next) => step.setSettings({ insert: next })}
      />
      <SelectField
        label="At the end"
        value={atEnd}
        names={END_NAMES}
        of={STEP_ENDS}
        onChange={(next) => step.setSettings({ atEnd: next })}
      />
      <EntryField
        label="Velocity of steps"
        mark="vel."
        title="1 to 127; empty or 0: as struck"
        shown={velocity === "struck" ? "struck" : String(velocity)}
        onType={(typed) =>
          refusalOf(() =>
            step.setSettings({ velocity: /^(struck|0)?$/.test(typed.trim()) ? "struck" : parseVelocity(typed, 100) }),
          )
        }
      />
      <EntryField
        label="Length of steps"
        mark="long"
        title="line: up to the next one; 1/16, 240, 100ms"
        shown={lengthTicks === "line" ? "line" : lengthText(lengthTicks)}
        onType={(typed) =>
          refusalOf(() =>
            step.setSettings({ lengthTicks: typed.trim() === "line" ? "line" : parseLength(typed, 240, frame) }),
          )
        }
      />
    </>
  );
}

interface SelectFieldProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly of: readonly T[];
  readonly names: Readonly<Record<T, string>>;
  onChange(value: T): void;
}

function SelectField<T extends string>({ label, value, of, names, onChange }: SelectFieldProps<T>) {
  return (
    <select
      className={`form-select form-select-sm ${styles.choice}`}
      aria-label={label}
      title={label}
      value={value}
      onChange={(event) => onChange(event.currentTarget.value as T)}
    >
      {of.map((one) => (
        <option key={one} value={one}>
          {names[one]}
        </option>
      ))}
    </select>
  );
}
