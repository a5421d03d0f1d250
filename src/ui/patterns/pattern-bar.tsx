"use client";

import { memo, useDeferredValue } from "react";
import type { Beat, Part } from "@/core/beat/beat";
import { Miniature, sameLoops, type MiniatureLoop } from "../common/miniature";
import { useKeyName } from "../common/use-key-name";
import { useBeat, useOpenPart, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { openQueued } from "@/store/workspace/workspace-state";
import styles from "./pattern-bar.module.scss";
import { PatternMenu } from "./pattern-menu";

/** The patterns of the open part in the order of the number keys: what is in them, which one plays, which one is next. */
export function PatternBar() {
  const workspace = useWorkspace();
  const beat = useBeat();
  const { words: nextKey } = useKeyName("nextPattern");
  const part = useOpenPart();
  const open = useOpenPattern();
  const queued = useWorkspaceState((state) => openQueued(state)?.place.patternId);
  const running = useWorkspaceState(({ transport }) => transport.running);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const recording = useWorkspaceState(({ transport }) => transport.writing === "record");
  const together = useWorkspaceState(({ settings }) => settings.patternsTogether);
  return (
    <section className={styles.bar} aria-label="Patterns">
      {part.patterns.map((pattern, index) => {
        const key = index < 8 ? String(index + 1) : `⇧${index - 7}`;
        const next = pattern.id === queued;
        return (
          <button
            key={pattern.id}
            type="button"
            className={`${styles.place} ${next ? styles.next : ""}`}
            aria-label={`${pattern.name}${next ? ", next" : ""}`}
            aria-current={pattern.id === open.id}
            title={`${pattern.name}, ${pattern.bars} ${pattern.bars === 1 ? "bar" : "bars"}`}
            onClick={() => workspace.patterns.choose(index)}
          >
            <span className={`numerals ${styles.key}`}>{key}</span>
            <PlaceMiniature beat={beat} loops={loopsAt(together ? beat.parts : [part], index)} still={recording} />
          </button>
        );
      })}
      <button
        type="button"
        className={`btn btn-sm ${styles.new}`}
        disabled={readOnly}
        title={`Next empty pattern, with the same length, grid and swing (${nextKey})`}
        onClick={() => workspace.patterns.nextEmpty()}
      >
        + <kbd className={styles.kbd}>{nextKey}</kbd>
      </button>
      <PatternMenu />
      <span className="visually-hidden" role="status">
        {running && queued !== undefined ? "Next pattern is waiting" : ""}
      </span>
    </section>
  );
}

/** What parts have at a place. */
function loopsAt(parts: readonly Part[], index: number): MiniatureLoop[] {
  return parts.flatMap((part) => {
    const pattern = part.patterns[index];
    return pattern ? [{ part, pattern }] : [];
  });
}

interface PlaceMiniatureProps {
  readonly beat: Beat;
  readonly loops: readonly MiniatureLoop[];
  /** It stays as it is for now: what it shows changes with every stroke. */
  readonly still: boolean;
}

/** Drawn when there is time for it, and not while it would change with every stroke: these are seen in the lanes. */
const PlaceMiniature = memo(
  function PlaceMiniature({ beat, loops }: PlaceMiniatureProps) {
    const calm = useDeferredValue(loops);
    return <Miniature beat={beat} loops={calm} className={styles.miniature!} />;
  },
  (before, now) => now.still || sameLoops(before, now),
);
