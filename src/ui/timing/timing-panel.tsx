"use client";

import panel from "../common/panel.module.scss";
import { AdviceLine } from "./advice-line";
import { GrooveFields } from "./groove-fields";
import { HearingChoice } from "./hearing-choice";
import { QuantizeFields } from "./quantize-fields";
import styles from "./timing.module.scss";

/** All that is done to the time of hits: lines, groove, what of it is heard, and the ways back. */
export function TimingPanel({ onReport }: { onReport(): void }) {
  return (
    <section className={`${panel.panel} ${styles.timing}`} aria-label="Timing">
      <QuantizeFields onReport={onReport} />
      <AdviceLine />
      <GrooveFields />
      <HearingChoice />
    </section>
  );
}
