"use client";

import type { ReactNode } from "react";
import { padsOf } from "@/core/beat/lanes";
import { DrumIcon } from "../common/drum-shape";
import { LevelCanvas, LevelGroup } from "../common/meters/level-group";
import { Grid3x3GapFill } from "../icons/generated/grid-3x3-gap-fill";
import { MusicNoteBeamed } from "../icons/generated/music-note-beamed";
import { useOfBeat, useOpenPart, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { MixRow } from "./mix-row";
import styles from "./mix.module.scss";
import { SumPanel } from "./sum-panel";

/** Levels and places of the open kit's pads and of all parts, and how loud it all is together. */
export default function MixView() {
  return (
    <section className={styles.view} aria-label="Mix">
      <PadRows />
      <div className={styles.side}>
        <SumPanel />
        <PartRows />
      </div>
    </section>
  );
}

function PadRows() {
  const workspace = useWorkspace();
  const part = useOpenPart();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const pads = padsOf(part).toReversed();
  if (pads.length === 0) return <p className={styles.none}>{part.name} is a voice: it has the level of its part.</p>;
  return (
    <MixRows className={styles.padRows} label={`Pads of ${part.name}`} sound>
      {pads.map(({ id, name, family, mix, muted, soloed, tuneSemitones, decaySeconds }) => (
        <MixRow
          key={id}
          {...{ name, mix, muted, soloed }}
          icon={<DrumIcon family={family} />}
          disabled={readOnly}
          peakOf={({ parts }) =>
            parts.find(({ partId }) => partId === part.id)?.lanes.find(({ lane }) => lane === id)?.peak ?? 0
          }
          heldPeak={() => workspace.mix.peaks.ofLane(part.id, id)}
          onMix={(change, gesture) => workspace.mix.setPad(id, change, gesture)}
          onMute={() => workspace.setPad(id, { muted: !muted })}
          onSolo={() => workspace.setPad(id, { soloed: !soloed })}
          sound={{
            tuneSemitones,
            decaySeconds,
            onTune: (semitones, gesture) => workspace.mix.setTune(id, semitones, gesture),
            onDecay: (seconds, gesture) => workspace.mix.setDecay(id, seconds, gesture),
          }}
        />
      ))}
    </MixRows>
  );
}

interface MixRowsProps {
  readonly className: string | undefined;
  readonly label: string;
  /** Whether they have columns for how pads sound. */
  readonly sound?: boolean;
  readonly children: ReactNode;
}

function MixRows({ className, label, sound = false, children }: MixRowsProps) {
  return (
    <LevelGroup>
      <ul className={`${styles.rows} ${className}`} aria-label={label}>
        <Heads sound={sound} />
        {children}
        <li className={styles.levels} aria-hidden>
          <LevelCanvas />
        </li>
      </ul>
    </LevelGroup>
  );
}

/** What the columns are, for who looks; each control says it by itself. */
function Heads({ sound }: { readonly sound: boolean }) {
  const heads = ["", "", "", "Level", "", "Peak", "Pan", "Room", ...(sound ? ["Tune", "Decay"] : [])];
  return (
    <li className={`${styles.row} ${styles.heads}`} aria-hidden>
      {heads.map((head, at) => (
        <span key={at}>{head}</span>
      ))}
    </li>
  );
}

function PartRows() {
  const { parts, mix: desk } = useWorkspace();
  const all = useOfBeat((beat) => beat.parts);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <MixRows className={styles.partRows} label="Parts">
      {all.map(({ id, name, kind, mix, muted, soloed }) => (
        <MixRow
          key={id}
          {...{ mix, muted, soloed }}
          name={name}
          icon={kind === "kit" ? <Grid3x3GapFill aria-hidden /> : <MusicNoteBeamed aria-hidden />}
          disabled={readOnly}
          peakOf={(meter) => meter.parts.find(({ partId }) => partId === id)?.peak ?? 0}
          heldPeak={() => desk.peaks.ofPart(id)}
          onMix={(change, gesture) => parts.setMix(id, change, gesture)}
          onMute={() => parts.toggleMute(id)}
          onSolo={() => parts.toggleSolo(id)}
        />
      ))}
    </MixRows>
  );
}
