"use client";

import { useDeferredValue } from "react";
import type { Beat, Part, Pattern } from "@/core/beat/beat";
import { PATTERN_PLACES } from "@/core/beat/pattern-edit";
import { Miniature } from "../common/miniature";
import { useKeyName } from "../common/use-key-name";
import { useBeat, useOpenPart, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./pattern-bar.module.scss";
import { PatternMenu } from "./pattern-menu";

/** Sixteen places for patterns in the order of the number keys: what is in them, which one plays, which one is next. */
export function PatternBar() {
  const workspace = useWorkspace();
  const beat = useBeat();
  const { words: nextKey } = useKeyName("nextPattern");
  const part = useOpenPart();
  const open = useOpenPattern();
  const queued = useWorkspaceState((state) => state.queued?.place.patternId);
  const running = useWorkspaceState(({ transport }) => transport.running);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <section className={styles.bar} aria-label="Patterns">
      {Array.from({ length: PATTERN_PLACES }, (_, index) => {
        const pattern: Pattern | undefined = part.patterns[index];
        const key = index < 8 ? String(index + 1) : `⇧${index - 7}`;
        if (!pattern)
          return (
            <span key={index} className={styles.empty} aria-hidden>
              {key}
            </span>
          );
        const next = pattern.id === queued;
        return (
          <button
            key={index}
            type="button"
            className={`${styles.place} ${next ? styles.next : ""}`}
            aria-label={`${pattern.name}${next ? ", next" : ""}`}
            aria-current={pattern.id === open.id}
            title={`${pattern.name}, ${pattern.bars} ${pattern.bars === 1 ? "bar" : "bars"}`}
            onClick={() => workspace.patterns.choose(index)}
          >
            <span className={`numerals ${styles.key}`}>{key}</span>
            <PlaceMiniature beat={beat} part={part} pattern={pattern} />
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

interface PlaceMiniatureProps {
  readonly beat: Beat;
  readonly part: Part;
  readonly pattern: Pattern;
}

/** Drawn when there is time for it, so that a flood of hits is heard and seen in the lanes first. */
function PlaceMiniature({ beat, part, pattern }: PlaceMiniatureProps) {
  const calm = useDeferredValue(pattern);
  return <Miniature beat={beat} part={part} pattern={calm} className={styles.miniature!} />;
}
