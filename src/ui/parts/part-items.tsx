"use client";

import Dropdown from "react-bootstrap/Dropdown";
import type { Part } from "@/core/beat/beat";
import { MAX_LEVEL_DB, MIN_LEVEL_DB } from "@/core/beat/edits/mix-edit";
import { NameField } from "../common/fields/name-field";
import { SettingSelect } from "../common/fields/setting-select";
import { VoiceFields } from "./voice-fields";
import { NumberField } from "../common/fields/number-field";
import { useBeat, useOpenPart, useWorkspace } from "../workspace/use-workspace";
import styles from "./part-strip.module.scss";

/** What is seldom done to the open part: its name, level and place, copying, moving, deleting. */
export default function PartItems() {
  const { parts } = useWorkspace();
  const beat = useBeat();
  const part = useOpenPart();
  const at = beat.parts.indexOf(part);
  const items = [
    { label: `Duplicate ${part.name}`, disabled: false, run: () => parts.duplicate(part.id) },
    { label: "Move to the left", disabled: at <= 0, run: () => parts.move(part.id, -1) },
    { label: "Move to the right", disabled: at === beat.parts.length - 1, run: () => parts.move(part.id, 1) },
    { label: `Delete ${part.name}`, disabled: beat.parts.length === 1, run: () => parts.remove(part.id) },
  ];
  return (
    <>
      <PartFields part={part} />
      <Dropdown.Divider />
      {items.map(({ label, disabled, run }) => (
        <Dropdown.Item key={label} as="button" type="button" disabled={disabled} onClick={run}>
          {label}
        </Dropdown.Item>
      ))}
    </>
  );
}

function PartFields({ part }: { readonly part: Part }) {
  const { parts } = useWorkspace();
  const { id, name, mix } = part;
  return (
    <div className={styles.fields}>
      <NameField key={id} name={name} className={styles.rename} onRename={(next) => parts.rename(id, next)} />
      <NumberField
        label="Level"
        unit="dB"
        value={mix.levelDb}
        decimals={1}
        min={MIN_LEVEL_DB}
        max={MAX_LEVEL_DB}
        step={1}
        standard={0}
        onChange={(levelDb, gesture) => parts.setMix(id, { levelDb }, gesture)}
      />
      <NumberField
        label="Pan"
        unit="%"
        value={Math.round(mix.pan * 100)}
        min={-100}
        max={100}
        step={5}
        standard={0}
        onChange={(percent, gesture) => parts.setMix(id, { pan: percent / 100 }, gesture)}
      />
      {part.kind === "tonal" && <VoiceFields part={part} />}
      <AlsoPlaysField part={part} />
    </div>
  );
}

const NOTHING = "";

/** What is played in this part sounds in another one, too. */
function AlsoPlaysField({ part: { id, alsoPlays } }: { readonly part: Part }) {
  const { parts } = useWorkspace();
  const beat = useBeat();
  const others = beat.parts.filter((part) => part.id !== id);
  if (others.length === 0) return null;
  return (
    <SettingSelect
      label="Also plays"
      value={alsoPlays === undefined ? NOTHING : String(alsoPlays)}
      options={{ [NOTHING]: "nothing else", ...Object.fromEntries(others.map((part) => [String(part.id), part.name])) }}
      onChange={(other) => parts.setAlsoPlays(id, other === NOTHING ? undefined : Number(other))}
    />
  );
}
