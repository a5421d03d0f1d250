"use client";

import type { DrumSource, PadLayer, SampleSource } from "@/core/beat/beat";
import { MAX_LEVEL_DB, MIN_LEVEL_DB } from "@/core/beat/edits/mix-edit";
import { drumFor } from "@/core/beat/edits/own-kit";
import { DRUM_IDS, DRUMS } from "@/core/drums";
import { KIT_IDS, KITS } from "@/core/instruments";
import { DrumIcon } from "../common/drum-shape";
import { NumberField } from "../common/fields/number-field";
import { TuneField } from "../common/fields/sound-number";
import { useWorkspaceState } from "../workspace/use-workspace";
import { Choice } from "./choice";
import type { PadProps } from "./pad-props";
import { SampleEditor } from "./sample-editor";
import styles from "./sounds.module.scss";

interface LayerEditorProps extends PadProps {
  readonly layer: PadLayer;
  /** @param what it is called in the history */
  onLayer(change: Partial<PadLayer>, what: string, gesture?: string): void;
}

/** One sound of a pad: which, how loud, how high, and at which velocities. */
export function LayerEditor(props: LayerEditorProps) {
  const { desk, layer, pad, onLayer } = props;
  const { source } = layer;
  const setSample = (next: SampleSource, gesture?: string) => onLayer({ source: next }, "Sample", gesture);
  return (
    <>
      <LayerFields layer={layer} onLayer={onLayer} />
      {source.kind === "sample" ? (
        <SampleEditor
          desk={desk}
          source={source}
          targetLufs={() => desk.targetLufs(pad)}
          onSource={setSample}
          onDrum={() => onLayer({ source: drumFor(pad) }, "Sound")}
        />
      ) : (
        <DrumChoice {...props} source={source} />
      )}
    </>
  );
}

function LayerFields({ layer, onLayer }: Pick<LayerEditorProps, "layer" | "onLayer">) {
  const { levelDb = 0, tuneSemitones = 0, velocities: [from, to] = [1, 127] } = layer;
  const span = (velocities: readonly [number, number], gesture: string) =>
    onLayer({ velocities }, "Velocities", gesture);
  return (
    <div className={styles.fields}>
      <NumberField
        label="Layer level"
        unit="dB"
        value={levelDb}
        min={MIN_LEVEL_DB}
        max={MAX_LEVEL_DB}
        step={1}
        decimals={1}
        standard={0}
        onChange={(level, gesture) => onLayer({ levelDb: level }, "Layer level", gesture)}
      />
      <TuneField
        label="Layer tune"
        value={tuneSemitones}
        onChange={(tune, gesture) => onLayer({ tuneSemitones: tune }, "Layer tune", gesture)}
      />
      <NumberField
        label="From velocity"
        value={from}
        min={1}
        max={127}
        step={1}
        standard={1}
        onChange={(next, gesture) => span([next, Math.max(next, to)], gesture)}
      />
      <NumberField
        label="To velocity"
        value={to}
        min={1}
        max={127}
        step={1}
        standard={127}
        onChange={(next, gesture) => span([Math.min(next, from), next], gesture)}
      />
    </div>
  );
}

/** A drum of any kit, gone through with arrow keys or the pointer; while nothing plays, each is heard as it is chosen. */
function DrumChoice(props: LayerEditorProps & { readonly source: DrumSource }) {
  const { desk, part, pad, browsing, source, onLayer } = props;
  const running = useWorkspaceState(({ transport }) => transport.running);
  const kit = source.kit ?? part.kitId;
  const choose = (change: Partial<DrumSource>) => {
    onLayer({ source: { kind: "drum", kit, drum: source.drum, ...change } }, "Sound", browsing.gesture());
    if (!running) desk.audition(pad.id);
  };
  return (
    <div className={styles.drums}>
      <fieldset className={styles.line}>
        <legend className="visually-hidden">Kit that the sound is of</legend>
        {KIT_IDS.map((id) => (
          <Choice
            key={id}
            group="kit of the sound"
            name={KITS[id].name}
            checked={id === kit}
            onChoose={() => choose({ kit: id })}
          />
        ))}
      </fieldset>
      <fieldset className={styles.grid}>
        <legend className="visually-hidden">Drum</legend>
        {DRUM_IDS.map((drum) => (
          <Choice
            key={drum}
            group="drum"
            name={DRUMS[drum].name}
            icon={<DrumIcon family={DRUMS[drum].family} size={12} />}
            checked={drum === source.drum}
            onChoose={() => choose({ drum })}
          />
        ))}
      </fieldset>
    </div>
  );
}
