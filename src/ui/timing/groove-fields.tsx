"use client";

import { Dice5 } from "react-bootstrap-icons";
import type { GrooveSetting, Looseness } from "@/core/beat/feel";
import { secondsToTicks, ticksToSeconds } from "@/core/time/tempo";
import type { Seconds, Ticks } from "@/core/time/ticks";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import { STRAIGHT, SWING_RANGE } from "@/core/timing/swing";
import { NumberField } from "../common/number-field";
import { SettingSelect } from "../common/setting-select";
import { useBeat, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { GrooveMenu } from "./groove-menu";
import { KeepReturn } from "./keep-return";
import { ShareMenu } from "./share-menu";
import styles from "./timing.module.scss";

const STEADY: Looseness = { ticks: 0, velocity: 0, seed: 1 };
const MAX_LOOSE_MS = 40;
const MAX_SEED = 1_000_000;

/** Swing, groove and looseness of the pattern, and which pads take how much of them. */
export function GrooveFields() {
  const workspace = useWorkspace();
  const { bpm } = useBeat();
  const { swing = STRAIGHT, groove, looseness = STEADY } = useOpenPattern();
  const own = useWorkspaceState(({ grooves }) => grooves);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const all = [...BUILT_IN_GROOVES, ...own];
  const current = groove?.groove;
  // A beat from elsewhere brings its groove along.
  const known = !current || all.some(({ name }) => name === current.name) ? all : [...all, current];
  const setGroove = (change: Partial<GrooveSetting>, gesture: string) =>
    groove && workspace.timing.setFeel({ groove: { ...groove, ...change } }, "Groove", gesture);
  const setLoose = (change: Partial<Looseness>, gesture?: string) => {
    const next = { ...looseness, ...change };
    const none = next.ticks === 0 && next.velocity === 0;
    workspace.timing.setFeel({ looseness: none ? undefined : next }, "Looseness", gesture);
  };
  const looseMs = ticksToSeconds(looseness.ticks as Ticks, bpm) * 1000;
  return (
    <>
      <div className={styles.grooveRow}>
        <SettingSelect
          label="Groove"
          value={current?.name ?? ""}
          options={{ "": "none", ...Object.fromEntries(known.map(({ name }) => [name, name])) }}
          disabled={readOnly}
          onChange={(name) => workspace.timing.setGroove(known.find((candidate) => candidate.name === name))}
        />
        <GrooveMenu />
        <ShareMenu />
      </div>
      {current?.description && (
        <p className={styles.says} title={current.description}>
          {current.description}
        </p>
      )}
      <div className={styles.fourRow}>
        {(["timing", "velocity"] as const).map((name) => (
          <NumberField
            key={name}
            label={name === "timing" ? "Timing" : "Accent"}
            unit="%"
            unitAbove
            value={Math.round((groove?.[name] ?? 1) * 100)}
            min={0}
            max={100}
            step={5}
            standard={100}
            disabled={readOnly || !groove}
            onChange={(percent, gesture) => setGroove({ [name]: percent / 100 }, gesture)}
          />
        ))}
        <NumberField
          label="Loose"
          unit="ms"
          unitAbove
          value={Number(looseMs.toFixed(1))}
          decimals={Number.isInteger(Number(looseMs.toFixed(1))) ? 0 : 1}
          min={0}
          max={MAX_LOOSE_MS}
          step={1}
          standard={0}
          disabled={readOnly}
          onChange={(ms, gesture) => setLoose({ ticks: secondsToTicks((ms / 1000) as Seconds, bpm) }, gesture)}
        />
        <NumberField
          label="± vel"
          value={looseness.velocity}
          min={0}
          max={64}
          step={1}
          standard={0}
          disabled={readOnly}
          onChange={(velocity, gesture) => setLoose({ velocity }, gesture)}
        />
        <button
          type="button"
          className="btn btn-sm"
          aria-label="Roll the looseness again"
          title="Roll the looseness again"
          disabled={readOnly || (looseness.ticks === 0 && looseness.velocity === 0)}
          onClick={() => setLoose({ seed: (looseness.seed % MAX_SEED) + 1 })}
        >
          <Dice5 aria-hidden />
        </button>
      </div>
      <div className={styles.swingRow}>
        <SettingSelect
          label="Swing on"
          value={swing.unit}
          options={{ "1/8": "1/8", "1/16": "1/16" }}
          disabled={readOnly}
          onChange={(unit) => workspace.timing.setFeel({ swing: { ...swing, unit } }, "Swing")}
        />
        <NumberField
          label="Swing"
          unit="%"
          unitAbove
          value={Number((swing.ratio * 100).toFixed(1))}
          decimals={Number.isInteger(swing.ratio * 100) ? 0 : 1}
          min={SWING_RANGE.min * 100}
          max={SWING_RANGE.max * 100}
          step={1}
          standard={50}
          disabled={readOnly}
          onChange={(percent, gesture) =>
            workspace.timing.setFeel({ swing: { ...swing, ratio: percent / 100 } }, "Swing", gesture)
          }
        />
        <KeepReturn />
      </div>
    </>
  );
}
