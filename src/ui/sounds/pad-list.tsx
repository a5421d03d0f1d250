"use client";

import { useState, type DragEvent } from "react";
import type { KitPart, Lane, Pad, PadLayer } from "@/core/beat/beat";
import { drumFor } from "@/core/beat/edits/own-kit";
import { DRUMS } from "@/core/drums";
import { KITS } from "@/core/instruments";
import type { SoundDesk } from "@/store/sounds/sound-desk";
import { DrumIcon } from "../common/drum-shape";
import { LaneLight } from "../common/meters/strike-light";
import styles from "./sounds.module.scss";

interface PadListProps {
  readonly desk: SoundDesk;
  readonly part: KitPart;
  readonly chosen: Lane;
  onChoose(pad: Lane): void;
}

/** Every pad and what it strikes; files that are dropped on one become its sound, and those of the pads behind it. */
export function PadList({ desk, part, chosen, onChoose }: PadListProps) {
  return (
    <ul className={styles.pads} aria-label={`Pads of ${part.name}`}>
      {part.pads.map((pad) => (
        <PadRow key={pad.id} desk={desk} part={part} pad={pad} chosen={pad.id === chosen} onChoose={onChoose} />
      ))}
    </ul>
  );
}

interface PadRowProps extends Omit<PadListProps, "chosen"> {
  readonly pad: Pad;
  readonly chosen: boolean;
}

function PadRow({ desk, part, pad, chosen, onChoose }: PadRowProps) {
  const { over, handlers } = useDraggedOver(() => onChoose(pad.id));
  const sources = pad.layers.map((layer) => sourceText(part, pad, layer)).join(" + ");
  // It has its name from there.
  const description = sources === pad.name ? "own sample" : sources;
  return (
    <li {...handlers}>
      <button
        type="button"
        className={`${styles.pad} ${over ? styles.over : ""}`}
        data-lane={pad.id}
        aria-pressed={chosen}
        aria-label={`${pad.name}: ${description}`}
        title={`${description}; audio files can be dropped here`}
        onClick={() => {
          onChoose(pad.id);
          desk.audition(pad.id);
        }}
      >
        <LaneLight lane={pad.id} />
        <DrumIcon family={pad.family} />
        <span>{pad.name}</span>
        <small>{description}</small>
      </button>
    </li>
  );
}

/** What a layer strikes; of a drum that is in its own place only the kit. @example "Signal Lamp", "Deckhouse, clap" */
export function sourceText({ kitId }: KitPart, pad: Pad, { source }: PadLayer): string {
  if (source.kind === "sample") return source.name;
  const kit = KITS[source.kit ?? kitId].name;
  return source.drum === drumFor(pad).drum ? kit : `${kit}, ${DRUMS[source.drum].name.toLowerCase()}`;
}

/** Files over a pad are to become its sound; the page takes them. */
function useDraggedOver(onDropped: () => void) {
  const [over, setOver] = useState(false);
  const handlers = {
    onDragOver: (event: DragEvent) => setOver(event.dataTransfer.types.includes("Files")),
    onDragLeave: () => setOver(false),
    onDrop() {
      setOver(false);
      onDropped();
    },
  };
  return { over, handlers };
}
