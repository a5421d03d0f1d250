"use client";

import { useEffect, useMemo, useState } from "react";
import type { KitPart, Lane } from "@/core/beat/beat";
import { deskOf, type SoundDesk } from "@/store/sounds/sound-desk";
import { useOpened, useOpenPart, useWorkspace } from "../workspace/use-workspace";
import { KitList } from "./kit-list";
import { PadEditor } from "./pad-editor";
import { PadList } from "./pad-list";
import styles from "./sounds.module.scss";
import { useBrowsing } from "./use-browsing";

/** What the open kit sounds like: its kit, the sound of each pad, samples of the player's own. */
export default function SoundsView() {
  const opened = useOpened();
  const [desk] = useState(() => deskOf(opened));
  const [prepared, setPrepared] = useState(false);
  useEffect(() => void desk.open().then(() => setPrepared(true)), [desk]);
  const part = useOpenPart();
  if (part.kind === "tonal")
    return (
      <section className={styles.view} aria-label="Sounds">
        <p className={styles.none}>{part.name} is a voice: which one, its menu says (the dots behind the parts).</p>
      </section>
    );
  return <KitSounds key={part.id} desk={desk} part={part} prepared={prepared} />;
}

interface KitSoundsProps {
  readonly desk: SoundDesk;
  readonly part: KitPart;
  /** All kits are there to be heard. */
  readonly prepared: boolean;
}

function KitSounds({ desk, part, prepared }: KitSoundsProps) {
  const browsing = useBrowsing(desk);
  const [chosen, choose] = useChosenPad(part);
  const pad = useMemo(() => part.pads.find(({ id }) => id === chosen) ?? part.pads[0]!, [part.pads, chosen]);
  return (
    <section className={styles.view} aria-label="Sounds">
      <KitList desk={desk} part={part} browsing={browsing} prepared={prepared} />
      <PadList desk={desk} part={part} chosen={pad.id} onChoose={choose} />
      <PadEditor key={pad.id} desk={desk} part={part} pad={pad} browsing={browsing} />
    </section>
  );
}

/** The pad that was struck or pressed last; while record is on a hand means to play, and nothing else. */
function useChosenPad({ id: partId, pads }: KitPart) {
  const workspace = useWorkspace();
  const [chosen, setChosen] = useState<Lane>(pads[0]!.id);
  useEffect(
    () =>
      workspace.router.onStrike((hit) => {
        if (hit.partId === partId && workspace.state.transport.writing === "off") setChosen(hit.lane);
      }),
    [workspace, partId],
  );
  return [chosen, setChosen] as const;
}
