"use client";

import { padsOf } from "@/core/beat/lanes";
import { DEFAULT_MASK_MS, MASK_RANGE_MS, newProfile } from "@/inputs/device-profile";
import { NumberField } from "../common/fields/number-field";
import { SettingSelect } from "../common/fields/setting-select";
import { useOfBeat, useOpenPart, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";
import { Learning } from "./learning";
import { VelocityCurve } from "./velocity-curve";

/** It plays whichever part is open. */
const OPEN_PART = "";

/** How a MIDI device is listened to. Kept by its name, so it is the same when it is plugged in again. */
export function DevicePanel({ device }: { readonly device: string }) {
  const workspace = useWorkspace();
  const profile = useWorkspaceState(({ midi }) => midi.profiles[device]) ?? newProfile(device);
  const parts = useOfBeat(({ parts }) => parts);
  const names = parts.map(({ name }) => name);
  const shown = useOpenPart();
  const part = parts.find(({ name }) => name === profile.plays) ?? shown;
  const change = (next: Partial<typeof profile>) => workspace.devices.setProfile(device, next);
  return (
    <section className={styles.panel} aria-label={`Listening to ${device}`}>
      <h2>{device}</h2>
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
        <SettingSelect
          label="Plays part"
          value={names.includes(profile.plays) ? profile.plays : OPEN_PART}
          options={{ [OPEN_PART]: "the open one", ...Object.fromEntries(names.map((name) => [name, name])) }}
          onChange={(plays) => change({ plays })}
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
      <Learning
        device={device}
        pads={padsOf(part)}
        mappings={profile.mappings}
        padMaskMs={profile.padMaskMs}
        maskMs={profile.maskMs}
      />
    </section>
  );
}
