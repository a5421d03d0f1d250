"use client";

import { useId } from "react";

export interface SettingSelectProps<T extends string> {
  readonly label: string;
  readonly value: T;
  /** What is shown for each value. */
  readonly options: Readonly<Record<string, string>>;
  readonly disabled?: boolean;
  /** Only for screen readers, where the place says enough. */
  readonly hideLabel?: boolean;
  onChange(value: T): void;
}

/** One of several, under its label. */
export function SettingSelect<T extends string>({
  label,
  value,
  options,
  disabled,
  hideLabel,
  onChange,
}: SettingSelectProps<T>) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className={hideLabel ? "visually-hidden" : "d-block small-label"}>
        {label}
      </label>
      <select
        id={id}
        className="form-select form-select-sm"
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(event.currentTarget.value as T)}
      >
        {Object.entries(options).map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </select>
    </div>
  );
}
