"use client";

import Dropdown from "react-bootstrap/Dropdown";
import { commonLapTicks } from "@/core/beat/common-lap";
import { findPattern } from "@/core/beat/edit";
import { samplesIn } from "@/core/beat/samples/pad-samples";
import type { MidiTiming } from "@/core/formats/midi/beat-to-midi";
import type { StemSize } from "@/core/playback/beat-to-stems";
import type { RenderMode } from "@/core/sound/player/render";
import { barTicks } from "@/core/time/meter";
import { ticksToSeconds } from "@/core/time/tempo";
import { wordsOf } from "@/store/words-of";
import { placeOf } from "@/store/state/workspace-state";
import { download, fileNameOf } from "../common/download";
import { useOpened, useWorkspace } from "../workspace/use-workspace";

const EXPORT_RATE = 48000;

export interface ExportItemsProps {
  /** @param what the player is told is being written */
  onChoose(what: string, write: () => Promise<void>): void;
}

/** The beat's file, its patterns as MIDI, its loop as sound. What each needs is loaded when it is used. */
export default function ExportItems({ onChoose }: ExportItemsProps) {
  const exports = useExports();
  const item = ({ label, what, write }: Export) => (
    <Dropdown.Item as="button" type="button" key={label} onClick={() => onChoose(what, write)}>
      {label}
    </Dropdown.Item>
  );
  const [all, ...ofPatterns] = exports;
  return (
    <>
      {item(all!)}
      <Dropdown.Divider />
      <Dropdown.Header as="p">{usePlayingInWords()}</Dropdown.Header>
      {ofPatterns.map(item)}
    </>
  );
}

/** Names the patterns that MIDI and sound are made of, and their common length. */
function usePlayingInWords(): string {
  const { state, beat } = useWorkspace();
  // As it is when the menu is opened.
  const places = beat.parts.map(({ id }) => placeOf(state, id));
  const names = [...new Set(places.map((patternRef) => findPattern(beat, patternRef).name))].join(", ");
  try {
    const ticks = commonLapTicks(beat, places);
    const bars = ticks / barTicks(beat.meter);
    return `Only what plays now: ${names}; ${bars} ${bars === 1 ? "bar" : "bars"}, ${ticksToSeconds(ticks, beat.bpm).toFixed(1)} s`;
  } catch (error) {
    return wordsOf(error);
  }
}

interface Export {
  readonly label: string;
  readonly what: string;
  write(): Promise<void>;
}

function useExports(): readonly Export[] {
  const workspace = useWorkspace();
  const { renderWav, renderStems, repository } = useOpened();
  const name = () => fileNameOf(workspace.beat.name);
  const beatFile = async () => {
    const { writeBeatArchive } = await import("@/core/formats/beat-archive");
    const samples = await repository.samples.files(samplesIn(workspace.beat));
    const file = writeBeatArchive({ beat: workspace.beat, samples });
    if (typeof file === "string") download(file, `${name()}.json`, "application/json");
    else download(file, `${name()}.zip`, "application/zip");
  };
  // All parts, each in the pattern that it plays.
  const places = () => workspace.beat.parts.map(({ id }) => placeOf(workspace.state, id));
  const midi = (timing: MidiTiming, suffix: string) => async () => {
    const { beatToMidi } = await import("@/core/formats/midi/beat-to-midi");
    download(beatToMidi(workspace.beat, places(), timing), `${name()}${suffix}.mid`, "audio/midi");
  };
  const wav = (mode: RenderMode, suffix: string) => async () => {
    const bytes = await renderWav(places(), { sampleRate: EXPORT_RATE, bits: 24, mode });
    download(bytes, `${name()}${suffix}.wav`, "audio/wav");
  };
  const stems = (size: StemSize) => async () => {
    const bytes = await renderStems(places(), size, { sampleRate: EXPORT_RATE, bits: 24, mode: "tail" });
    download(bytes, `${name()} (stems).zip`, "application/zip");
  };
  return [
    { label: "Beat file", what: "beat file", write: beatFile },
    { label: "MIDI, as heard", what: "MIDI", write: midi("heard", "") },
    { label: "MIDI, as played", what: "MIDI", write: midi("played", " (played)") },
    { label: "WAV, exact loop", what: "WAV", write: wav("loop", " (loop)") },
    { label: "WAV, with its tail", what: "WAV", write: wav("tail", " (with tail)") },
    { label: "Stems, a WAV a part", what: "stems", write: stems("part") },
    { label: "Stems, a WAV a pad", what: "stems", write: stems("pad") },
  ];
}
