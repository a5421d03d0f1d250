"use client";

import { REPEAT_RATES } from "@/inputs/commands";
import { REPEAT_LEVELS, REPEAT_RAMP_BEATS, type Settings } from "@/store/settings";
import { useKeyLabels } from "../common/use-key-labels";
import { useRateHold } from "./use-rate-hold";
import { RATE_KEYS } from "../workspace/keymap";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./repeat-row.module.scss";

/** The rates of note repeat in the row of their keys: held with a key, latched with a click. */
export function RepeatRow() {
  const { rate, latched } = useWorkspaceState((state) => state.repeat);
  const labels = useKeyLabels(RATE_KEYS);
  const hold = useRateHold();
  return (
    <section className={styles.row} aria-label="Note repeat">
      <span className={styles.title} aria-hidden>
        Repeat
      </span>
      {REPEAT_RATES.map((choice, index) => (
        <button
          key={choice}
          type="button"
          className={styles.rate}
          aria-label={`Note repeat ${choice}`}
          aria-pressed={choice === rate}
          title={`Hold ${labels[index]}, or this, with a pad; click to keep it on`}
          aria-keyshortcuts={labels[index]}
          onPointerDown={(event) => event.button === 0 && hold.begin(choice)}
          onPointerUp={hold.end}
          onPointerCancel={hold.end}
          onPointerLeave={hold.end}
          onClick={() => hold.click(choice)}
        >
          <kbd className={styles.letter}>{labels[index]}</kbd>
          <span className="numerals">{choice}</span>
          {choice === rate && latched && <span className={styles.latched}>on</span>}
        </button>
      ))}
      <LevelChoice />
    </section>
  );
}

/** How loud repeated notes are, and how long a rise or fall takes. */
function LevelChoice() {
  const workspace = useWorkspace();
  const { repeatLevel, repeatRampBeats } = useWorkspaceState((state) => state.settings);
  const ramps = repeatLevel === "rise" || repeatLevel === "fall";
  const setRamp = (value: string) => {
    const chosen = REPEAT_RAMP_BEATS.find((beats) => String(beats) === value);
    if (chosen !== undefined) workspace.setSettings({ repeatRampBeats: chosen });
  };
  return (
    <>
      <select
        className={`form-select form-select-sm ${styles.select}`}
        aria-label="Level of repeated notes"
        value={repeatLevel}
        onChange={(event) =>
          workspace.setSettings({ repeatLevel: event.currentTarget.value as Settings["repeatLevel"] })
        }
      >
        {Object.entries(REPEAT_LEVELS).map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </select>
      {ramps && (
        <select
          className={`form-select form-select-sm ${styles.select}`}
          aria-label="Length of the rise or fall"
          value={repeatRampBeats}
          onChange={(event) => setRamp(event.currentTarget.value)}
        >
          {REPEAT_RAMP_BEATS.map((beats) => (
            <option key={beats} value={beats}>
              {beats === 1 ? "1 beat" : `${beats} beats`}
            </option>
          ))}
        </select>
      )}
    </>
  );
}
