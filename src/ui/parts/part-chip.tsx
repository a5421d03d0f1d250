"use client";

import { useEffect, useRef } from "react";
import { CircleFill } from "../icons/generated/circle-fill";
import { Grid3x3GapFill } from "../icons/generated/grid-3x3-gap-fill";
import { MusicNoteBeamed } from "../icons/generated/music-note-beamed";
import { MuteSolo } from "../common/mute-solo";
import type { Part } from "@/core/beat/beat";
import { soundSetsOf } from "@/core/playback/part-sounds";
import { isRecorded } from "@/store/state/workspace-state";
import { PartMeter } from "./part-meter";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./part-strip.module.scss";

interface PartChipProps {
  readonly part: Part;
  readonly shown: boolean;
  /** There is no other part, so there is nothing to hear it beside. */
  readonly alone: boolean;
}

/** One instrument: a click opens it, its toggles mute and solo it. */
export function PartChip({ part, shown, alone }: PartChipProps) {
  const { parts } = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const { id, kind, name, muted, soloed } = part;
  const recorded = useWorkspaceState((state) => !alone && isRecorded(state, id));
  const awaited = useWorkspaceState(({ soundsAwaited }) =>
    soundSetsOf(part).some((set) => soundsAwaited.includes(set)),
  );
  const Kind = kind === "kit" ? Grid3x3GapFill : MusicNoteBeamed;
  const chip = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (shown) chip.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [shown]);
  return (
    <span ref={chip} className={`${styles.chip} ${shown ? styles.open : ""}`} aria-busy={awaited}>
      <button
        type="button"
        className={styles.name}
        aria-current={shown}
        title={`${kind === "kit" ? "A kit" : "A voice with pitch"}. ${shown ? "Open: what you play goes into it" : "Opens it; the loop runs on"}${recorded ? "; being recorded" : ""}`}
        onClick={() => parts.open(id)}
      >
        <Kind className={styles.kind!} aria-hidden />
        {name}
        {recorded && <CircleFill className={styles.dot!} aria-hidden />}
        <PartMeter partId={id} />
      </button>
      {!alone && (
        <MuteSolo
          name={`part ${name}`}
          {...{ muted, soloed, disabled: readOnly }}
          className={styles.toggle}
          onMute={() => parts.toggleMute(id)}
          onSolo={() => parts.toggleSolo(id)}
        />
      )}
    </span>
  );
}
