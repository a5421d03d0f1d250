"use client";

import { useState } from "react";
import type { LaneInfo } from "@/core/beat/lanes";
import { COMMANDS, COMMAND_NAMES, type Command } from "@/inputs/commands";
import { MASK_RANGE_MS, type Mapping, type Target } from "@/inputs/device-profile";
import { NumberField } from "../common/fields/number-field";
import { SettingSelect } from "../common/fields/setting-select";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";

interface LearningProps {
  readonly device: string;
  readonly mappings: readonly Mapping[];
  readonly padMaskMs: Readonly<Record<number, number>>;
  readonly maskMs: number;
  /** Of the part that the device plays. */
  readonly pads: readonly LaneInfo[];
}

/** Pick what it is to do, hit the drum, done; and the list of what was learnt. */
export function Learning({ device, mappings, padMaskMs, maskMs, pads }: LearningProps) {
  const { devices } = useWorkspace();
  const learning = useWorkspaceState(({ midi }) => midi.learning);
  const [choice, setChoice] = useState(() => (pads[0] ? `pad ${pads[0].id}` : `command ${COMMAND_NAMES[0]}`));
  const names = targetNames(pads);
  const target = targetOf(choice in names ? choice : `command ${COMMAND_NAMES[0]}`);
  return (
    <>
      <h3>Learn</h3>
      <div className={styles.learn}>
        <SettingSelect label="What to do" value={choice} options={names} onChange={setChoice} />
        <button
          type="button"
          className="btn"
          aria-pressed={learning !== undefined}
          onClick={() => devices.learn(learning ? undefined : target)}
        >
          {learning ? "Hit it now… (Esc)" : "Learn"}
        </button>
        {pads.length > 0 && !learning && (
          <button
            type="button"
            className="btn"
            title="Each pad lights in turn: hit what is to play it"
            onClick={() => devices.learnInTurn(pads.map(({ id }) => ({ kind: "pad", pad: id })))}
          >
            All pads in turn
          </button>
        )}
        {target.kind === "pad" && (
          <NumberField
            label={`Doubles of ${names[choice]}`}
            unit="ms"
            value={padMaskMs[target.pad] ?? maskMs}
            {...MASK_RANGE_MS}
            step={1}
            standard={maskMs}
            onChange={(ms) => devices.setProfile(device, { padMaskMs: { ...padMaskMs, [target.pad]: ms } })}
          />
        )}
      </div>
      <InTurn names={names} />
      <Learnt device={device} mappings={mappings} names={names} />
    </>
  );
}

/** Which pad is waited for, where they are learnt in turn. */
function InTurn({ names }: Pick<LearntProps, "names">) {
  const { devices } = useWorkspace();
  const learning = useWorkspaceState(({ midi }) => midi.learning);
  const left = useWorkspaceState(({ midi }) => midi.learnNext.length);
  return (
    <div className={styles.turn} role="status">
      {learning && (
        <>
          <span>
            Hit what is to play <b>{names[keyOf(learning)]}</b>
            {left > 0 && `; ${left} after it`}.
          </span>
          <button type="button" className="btn btn-sm" onClick={() => devices.skipLearning()}>
            Skip it
          </button>
        </>
      )}
    </div>
  );
}

interface LearntProps extends Pick<LearningProps, "device" | "mappings"> {
  readonly names: Readonly<Record<string, string>>;
}

function Learnt({ device, mappings, names }: LearntProps) {
  const { devices } = useWorkspace();
  if (mappings.length === 0)
    return <p className={styles.says}>Nothing learnt: General MIDI drum notes go to the pads of that name.</p>;
  return (
    <ul className={styles.mappings}>
      {mappings.map(({ trigger, target }) => (
        <li key={`${trigger.kind} ${trigger.number}`}>
          <span className="numerals">
            {trigger.kind} {trigger.number}
          </span>
          <span>→ {names[keyOf(target)]}</span>
          <button
            type="button"
            className="btn btn-sm"
            aria-label={`Forget ${trigger.kind} ${trigger.number}`}
            onClick={() => devices.forget(device, trigger)}
          >
            Forget
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Everything that can be learnt, by its key in the choice. */
function targetNames(pads: readonly LaneInfo[]): Readonly<Record<string, string>> {
  return {
    ...Object.fromEntries(pads.map(({ id, name }) => [`pad ${id}`, name])),
    ...Object.fromEntries(COMMAND_NAMES.map((command) => [`command ${command}`, COMMANDS[command]])),
  };
}

function keyOf(target: Target): string {
  return target.kind === "pad" ? `pad ${target.pad}` : `command ${target.command}`;
}

function targetOf(key: string): Target {
  return key.startsWith("pad ")
    ? { kind: "pad", pad: Number(key.slice(4)) }
    : { kind: "command", command: key.slice(8) as Command };
}
