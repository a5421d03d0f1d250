"use client";

import { useId } from "react";
import { GRID_NAMES, type GridName } from "@/core/time/grid";

export interface GridSelectProps {
  readonly label: string;
  readonly value: GridName;
  readonly disabled: boolean;
  /** Only for screen readers, where the place says enough. */
  readonly hideLabel?: boolean;
  onChange(grid: GridName): void;
}

export function GridSelect({ label, value, disabled, hideLabel, onChange }: GridSelectProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className={hideLabel ? "visually-hidden" : "d-block small-label"}>
        {label}
      </label>
      <select
        id={id}
        className="form-select form-select-sm numerals"
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(event.currentTarget.value as GridName)}
      >
        {GRID_NAMES.map((name) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </select>
    </div>
  );
}
