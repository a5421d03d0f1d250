"use client";

import { useRef, useState } from "react";
import { MAX_LAYERS, type PadLayer } from "@/core/beat/beat";
import { drumFor } from "@/core/beat/edits/own-kit";
import { SettingSelect } from "../common/fields/setting-select";
import { DecayField, TuneField } from "../common/fields/sound-number";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { LayerEditor } from "./layer-editor";
import { sourceText } from "./pad-list";
import type { PadProps } from "./pad-props";
import styles from "./sounds.module.scss";

/** What one pad strikes, and how it goes. */
export function PadEditor(props: PadProps) {
  const { desk, pad } = props;
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <fieldset className={styles.editor} disabled={readOnly} aria-label={`Sound of ${pad.name}`}>
      <header className={styles.head}>
        <h2>{pad.name}</h2>
        <button type="button" className="btn btn-sm" onClick={() => desk.audition(pad.id)}>
          Hear it
        </button>
        <SampleButton desk={desk} pad={pad} />
      </header>
      <PadFields {...props} />
      <Layers {...props} />
    </fieldset>
  );
}

function SampleButton({ desk, pad }: Pick<PadProps, "desk" | "pad">) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <button
        type="button"
        className="btn btn-sm"
        title="Audio files of your own; several go onto the pads behind this one, too"
        onClick={() => picker.current?.click()}
      >
        Own sound…
      </button>
      <input
        ref={picker}
        type="file"
        className="d-none"
        aria-label={`Audio files for ${pad.name}`}
        accept="audio/*,.wav,.aif,.aiff,.flac,.mp3,.ogg"
        multiple
        onChange={({ currentTarget }) => {
          const files = [...(currentTarget.files ?? [])];
          void desk.bringIn(files, pad.id).finally(() => (currentTarget.value = ""));
        }}
      />
    </>
  );
}

const OWN_CHOKE = "own";
const CHOKES: Record<string, string> = {
  [OWN_CHOKE]: "as the kit has it",
  "0": "nothing",
  ...Object.fromEntries(Array.from({ length: 8 }, (_, at) => [String(at + 1), `group ${at + 1}`])),
};
const ENDS = { rings: "rings out", held: "ends with the note" };

function PadFields({ desk, pad }: PadProps) {
  const { mix } = useWorkspace();
  const { id, tuneSemitones = 0, decaySeconds = 0, chokeGroup, held } = pad;
  return (
    <div className={styles.fields}>
      <TuneField
        label="Tune"
        value={tuneSemitones}
        onChange={(semitones, gesture) => mix.setTune(id, semitones, gesture)}
      />
      <DecayField
        label="Decay"
        value={decaySeconds}
        onChange={(seconds, gesture) => mix.setDecay(id, seconds, gesture)}
      />
      <SettingSelect
        label="Cuts off"
        value={chokeGroup === undefined ? OWN_CHOKE : String(chokeGroup)}
        options={CHOKES}
        onChange={(group) =>
          desk.setPad(id, { chokeGroup: group === OWN_CHOKE ? undefined : Number(group) }, "Choke group")
        }
      />
      <SettingSelect
        label="Let go, it"
        value={held ? "held" : "rings"}
        options={ENDS}
        onChange={(end) => desk.setPad(id, { held: end === "held" ? true : undefined }, "End")}
      />
    </div>
  );
}

/** The sounds that a stroke sounds together, or each at its own velocities. */
function Layers(props: PadProps) {
  const { desk, part, pad } = props;
  const [wanted, setWanted] = useState(0);
  const at = Math.min(wanted, pad.layers.length - 1);
  const set = (layers: readonly PadLayer[]) => desk.setPad(pad.id, { layers }, "Layers");
  const add = () => {
    set([...pad.layers, { source: drumFor(pad) }]);
    setWanted(pad.layers.length);
  };
  return (
    <>
      <div className={styles.layers} role="group" aria-label="Layers">
        {pad.layers.map((layer, index) => (
          <button
            key={index}
            type="button"
            className="btn btn-sm"
            aria-pressed={index === at}
            onClick={() => setWanted(index)}
          >
            {index + 1}: {sourceText(part, pad, layer)}
          </button>
        ))}
        {pad.layers.length < MAX_LAYERS && (
          <button type="button" className="btn btn-sm" onClick={add}>
            Add a layer
          </button>
        )}
        {pad.layers.length > 1 && (
          <button type="button" className="btn btn-sm" onClick={() => set(pad.layers.toSpliced(at, 1))}>
            Take this one away
          </button>
        )}
      </div>
      <LayerEditor
        key={at}
        {...props}
        layer={pad.layers[at]!}
        onLayer={(change, what, gesture) => desk.setLayer(pad.id, at, change, what, gesture)}
      />
    </>
  );
}
