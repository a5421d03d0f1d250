"use client";

import Link from "next/link";
import type { Theme } from "../theme/theme-cookie";
import { ThemeToggle } from "../theme/theme-toggle";
import { BeatDial } from "./beat-dial";
import { BeatName } from "./beat-name";
import { ClickControl } from "./click-control";
import { ExportMenu } from "./export-menu";
import { HistoryButtons } from "./history-buttons";
import { KeysHelp } from "./keys-help";
import { LoopLength } from "./loop-length";
import { ModeChoice } from "./mode-choice";
import { OutputMeter } from "./output-meter";
import { TempoField } from "./tempo-field";
import styles from "./top-strip.module.scss";
import { TransportButtons } from "./transport-buttons";

/** The beat, where it is, and how it is played and recorded. */
export function TopStrip({ theme }: { readonly theme: Theme }) {
  return (
    <header className={styles.strip}>
      <div className={styles.identity}>
        <div className={styles.above}>
          <Link href="/" className={styles.home}>
            <span aria-hidden>←</span> Shelf
          </Link>
          <KeysHelp />
          <ThemeToggle initial={theme} />
        </div>
        <BeatName />
      </div>
      <BeatDial />
      <TransportButtons />
      <ModeChoice />
      <TempoField />
      <LoopLength />
      <ClickControl />
      <div className={styles.end}>
        <div className={styles.row}>
          <HistoryButtons />
          <ExportMenu />
        </div>
        <OutputMeter />
      </div>
    </header>
  );
}
