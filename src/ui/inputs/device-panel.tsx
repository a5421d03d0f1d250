"use client";

import { useState } from "react";
import { COMMANDS, COMMAND_NAMES, type Command } from "@/inputs/commands";
import { DEFAULT_MASK_MS, MASK_RANGE_MS, newProfile, type Mapping, type Target } from "@/inputs/device-profile";
import { NumberField } from "../common/number-field";
import { SettingSelect } from "../common/setting-select";
import { useOpenPart, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";
import { VelocityCurve } from "./velocity-curve";

/** How a MIDI device is listened to. Kept by its name, so it is the same when it is plugged in again. */
export function DevicePanel({ device }: { readonly device: string }) {
  const workspace = useWorkspace();
  const profile = useWorkspaceState(({ midi }) => midi.profiles[device]) ?? newProfile(device);
  const change = (next: Partial<typeof profile>) => workspace.devices.setProfile(device, next);
  return (
    <section className={styles.panel} aria-labelledby="device-title">
      <h2 id="device-title">{device}</h2>
      <div className={styles.fields}>
        <label className={styles.check}>
          <input
            type="checkbox"
            checked={profile.on}
            onChange={(event) => change({ on: event.currentTarget.checked })}
          />
          Listen to it
        </label>
        <SettingSelect
          label="Channel"
          value={String(profile.channel)}
          options={Object.fromEntries(
            Array.from({ length: 17 }, (_, channel) => [String(channel), channel === 0 ? "all" : String(channel)]),
          )}
          onChange={(channel) => change({ channel: Number(channel) })}
        />
        <NumberField
          label="Double triggers within"
          unit="ms"
          value={profile.maskMs}
          {...MASK_RANGE_MS}
          step={1}
          standard={DEFAULT_MASK_MS}
          onChange={(maskMs) => change({ maskMs })}
        />
        <label className={styles.check}>
          <input
            type="checkbox"
            checked={profile.pedalReversed}
            onChange={(event) => change({ pedalReversed: event.currentTarget.checked })}
          />
          Hat pedal is reversed
        </label>
      </div>
      <VelocityCurve profile={profile} onChange={change} />
      <Learning device={device} mappings={profile.mappings} padMaskMs={profile.padMaskMs} maskMs={profile.maskMs} />
    </section>
  );
}

interface LearningProps {
  readonly device: string;
  readonly mappings: readonly Mapping[];
  readonly padMaskMs: Readonly<Record<number, number>>;
  readonly maskMs: number;
}

/** Pick what it is to do, hit the drum, done; and the list of what was learnt. */
function Learning({ device, mappings, padMaskMs, maskMs }: LearningProps) {
  const workspace = useWorkspace();
  const part = useOpenPart();
  const learning = useWorkspaceState(({ midi }) => midi.learning);
  const [choice, setChoice] = useState("pad 0");
  const targets = {
    ...Object.fromEntries(part.pads.map(({ id, name }) => [`pad ${id}`, name])),
    ...Object.fromEntries(COMMAND_NAMES.map((command) => [`command ${command}`, COMMANDS[command]])),
  };
  const target: Target = choice.startsWith("pad ")
    ? { kind: "pad", pad: Number(choice.slice(4)) }
    : { kind: "command", command: choice.slice(8) as Command };
  const chosenPad = target.kind === "pad" ? target.pad : undefined;
  return (
    <>
      <h3>Learn</h3>
      <div className={styles.learn}>
        <SettingSelect label="What to do" value={choice} options={targets} onChange={setChoice} />
        <button
          type="button"
          className="btn"
          aria-pressed={learning !== undefined}
          onClick={() => workspace.devices.learn(learning ? undefined : target)}
        >
          {learning ? "Hit it now… (Esc)" : "Learn"}
        </button>
        {chosenPad !== undefined && (
          <NumberField
            label={`Doubles of ${targets[choice]}`}
            unit="ms"
            value={padMaskMs[chosenPad] ?? maskMs}
            {...MASK_RANGE_MS}
            step={1}
            standard={maskMs}
            onChange={(ms) => workspace.devices.setProfile(device, { padMaskMs: { ...padMaskMs, [chosenPad]: ms } })}
          />
        )}
      </div>
      {mappings.length === 0 ? (
        <p className={styles.says}>Nothing learnt: General MIDI drum notes go to the pads of that name.</p>
      ) : (
        <ul className={styles.mappings}>
          {mappings.map(({ trigger, target: does }) => (
            <li key={`${trigger.kind} ${trigger.number}`}>
              <span className="numerals">
                {trigger.kind} {trigger.number}
              </span>
              <span>→ {targets[does.kind === "pad" ? `pad ${does.pad}` : `command ${does.command}`]}</span>
              <button
                type="button"
                className="btn btn-sm"
                aria-label={`Forget ${trigger.kind} ${trigger.number}`}
                onClick={() => workspace.devices.forget(device, trigger)}
              >
                Forget
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
