"use client";

import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { Sliders } from "../icons/generated/sliders";
import type { QuantizeSettings } from "@/core/beat/beat";
import type { QuantizeChange } from "@/core/beat/quantize-settings";
import { LINE_GRID_NAMES, type LineGridName } from "@/core/time/grid";
import { asTicks } from "@/core/time/ticks";
import { SettingSelect } from "../common/fields/setting-select";
import styles from "./timing.module.scss";

const MAX_MIX = 2;
const ENDS = { along: "moves along", played: "as played", grid: "on the grid", "240": "1/16 long", "480": "1/8 long" };

export interface MixMenuProps {
  readonly settings: QuantizeSettings;
  readonly disabled: boolean;
  onChange(change: QuantizeChange): void;
}

/** More grids beside the first one, decided for all or beat by beat, and where a moved hit ends. */
export function MixMenu({ settings, disabled, onChange }: MixMenuProps) {
  const { grid, mix = [], adaptive, ends } = settings;
  const toggle = (name: LineGridName) =>
    onChange({ mix: mix.includes(name) ? mix.filter((other) => other !== name) : [...mix, name].slice(-MAX_MIX) });
  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle
        as="button"
        type="button"
        className="btn btn-sm"
        bsPrefix="mix"
        aria-label="Mixed grids and ends"
        title="Mixed grids and ends"
        disabled={disabled || grid === "off"}
      >
        <Sliders aria-hidden />
      </Dropdown.Toggle>
      {createPortal(
        <Dropdown.Menu className={styles.sheet}>
          <fieldset>
            <legend>Mix with, up to two</legend>
            <div className={styles.grids}>
              {LINE_GRID_NAMES.filter((name) => name !== grid).map((name) => (
                <label key={name}>
                  <input type="checkbox" checked={mix.includes(name)} onChange={() => toggle(name)} /> {name}
                </label>
              ))}
            </div>
          </fieldset>
          <label>
            <input
              type="checkbox"
              checked={adaptive === true}
              disabled={mix.length === 0}
              onChange={(event) => onChange({ adaptive: event.currentTarget.checked || undefined })}
            />{" "}
            Adaptive: in each beat the one that fits
          </label>
          <SettingSelect
            label="Where a hit ends"
            value={String(ends ?? "along")}
            options={ENDS}
            onChange={(value) => onChange({ ends: toEnds(value) })}
          />
          <p className={styles.says}>T: triplets. D: dotted. Q: five in the time of four.</p>
        </Dropdown.Menu>,
        document.body,
      )}
    </Dropdown>
  );
}

function toEnds(value: string): QuantizeSettings["ends"] {
  if (value === "along") return undefined;
  return value === "played" || value === "grid" ? value : asTicks(Number(value));
}
