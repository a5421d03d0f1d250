"use client";

import type { GrooveSetting } from "@/core/beat/feel";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import { NumberField } from "../common/fields/number-field";
import { SettingSelect } from "../common/fields/setting-select";
import { useOfPattern, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { GrooveMenu } from "./groove-menu";
import { LooseFields } from "./loose-fields";
import { ShareMenu } from "./share-menu";
import { SwingFields } from "./swing-fields";
import styles from "./timing.module.scss";

/** Swing, groove and looseness of the pattern, and which pads take how much of them. */
export default function GrooveFields() {
  const groove = useOfPattern(({ groove }) => groove);
  const name = useOfPattern((pattern) => pattern.name);
  const description = groove?.groove.description;
  return (
    <>
      <p className={styles.feel}>Feel of {name}, all its hits</p>
      <GrooveChoice />
      {description && (
        <p className={styles.says} title={description}>
          {description}
        </p>
      )}
      <div className={styles.fourRow}>
        <AmountField name="timing" label="Timing" />
        <AmountField name="velocity" label="Accent" />
        <LooseFields />
      </div>
      <SwingFields />
    </>
  );
}

function GrooveChoice() {
  const { timing } = useWorkspace();
  const current = useOpenPattern().groove?.groove;
  const own = useWorkspaceState(({ grooves }) => grooves);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const all = [...BUILT_IN_GROOVES, ...own];
  // A beat from elsewhere brings its groove along.
  const known = !current || all.some(({ name }) => name === current.name) ? all : [...all, current];
  return (
    <div className={styles.grooveRow}>
      <SettingSelect
        label="Groove"
        value={current?.name ?? ""}
        options={{ "": "none", ...Object.fromEntries(known.map(({ name }) => [name, name])) }}
        disabled={readOnly}
        onChange={(name) => timing.setGroove(known.find((candidate) => candidate.name === name))}
      />
      <GrooveMenu />
      <ShareMenu />
    </div>
  );
}

/** How much of the groove's times, or of its accents. */
function AmountField({ name, label }: { readonly name: keyof Omit<GrooveSetting, "groove">; readonly label: string }) {
  const { timing } = useWorkspace();
  const groove = useOfPattern(({ groove }) => groove);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <NumberField
      label={label}
      unit="%"
      unitAbove
      value={Math.round((groove?.[name] ?? 1) * 100)}
      min={0}
      max={100}
      step={5}
      standard={100}
      disabled={readOnly || !groove}
      onChange={(percent, gesture) =>
        timing.setFeel(({ groove: now }) => ({ groove: now && { ...now, [name]: percent / 100 } }), "Groove", gesture)
      }
    />
  );
}
