"use client";

import { useState, type FormEvent } from "react";
import type { HitsWhere } from "@/core/editing/choose-hits";
import { useOfPattern, useUsedLanes, useWorkspace } from "../workspace/use-workspace";
import styles from "./hits.module.scss";

const KINDS = {
  any: {},
  on: { grid: "on" },
  off: { grid: "off" },
  covered: { silent: "covered" },
  double: { silent: "double" },
} as const satisfies Record<string, HitsWhere>;
const KIND_NAMES: Readonly<Record<keyof typeof KINDS, string>> = {
  any: "on and off the grid",
  on: "on the grid",
  off: "off the grid",
  covered: "covered by a louder one",
  double: "double triggers",
};

/** Chooses hits by what they are: each field that is left empty lets all through. */
export function WhereForm({ onDone }: { onDone(): void }) {
  const { lanes } = useWorkspace();
  const names = useUsedLanes();
  const passes = useOfPattern((pattern) => pattern.passes);
  const [lane, setLane] = useState("");
  const [pass, setPass] = useState("");
  const [kind, setKind] = useState<keyof typeof KINDS>("any");
  const [from, setFrom] = useState("");
  const [upTo, setUpTo] = useState("");
  const [off, setOff] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    lanes.selectWhere({
      ...KINDS[kind],
      ...(lane && { lanes: new Set([Number(lane)]) }),
      ...(pass && { passId: Number(pass) }),
      ...(figure(from) && { from: figure(from)! }),
      ...(figure(upTo) && { upTo: figure(upTo)! }),
      ...(figure(off) && { offByMs: figure(off)! }),
    });
    onDone();
  };
  return (
    <form className={styles.where} onSubmit={submit} aria-label="Choose where">
      <Choice label="Pad" value={lane} onChange={setLane} of={names.map(({ id, name }) => [String(id), name])} />
      <Choice label="Pass" value={pass} onChange={setPass} of={passes.map(({ id, name }) => [String(id), name])} />
      <Figure label="From velocity" value={from} onChange={setFrom} />
      <Figure label="Up to velocity" value={upTo} onChange={setUpTo} />
      <Figure label="Off by more than ms" value={off} onChange={setOff} />
      <label>
        <span>Kind</span>
        <select
          className="form-select form-select-sm"
          value={kind}
          onChange={(event) => setKind(event.currentTarget.value as keyof typeof KINDS)}
        >
          {Object.entries(KIND_NAMES).map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <button type="submit" className="btn btn-sm">
        Choose
      </button>
    </form>
  );
}

function figure(typed: string): number | undefined {
  const value = Number(typed.replace(",", "."));
  return typed.trim() !== "" && Number.isFinite(value) ? value : undefined;
}

interface FieldProps {
  readonly label: string;
  readonly value: string;
  onChange(value: string): void;
}

function Figure({ label, value, onChange }: FieldProps) {
  return (
    <label>
      <span>{label}</span>
      <input
        className="form-control form-control-sm numerals"
        inputMode="decimal"
        value={value}
        onChange={(event) => onChange(event.currentTarget.value)}
      />
    </label>
  );
}

function Choice({ label, value, of, onChange }: FieldProps & { readonly of: readonly (readonly [string, string])[] }) {
  return (
    <label>
      <span>{label}</span>
      <select
        className="form-select form-select-sm"
        value={value}
        onChange={(event) => onChange(event.currentTarget.value)}
      >
        <option value="">any</option>
        {of.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}
