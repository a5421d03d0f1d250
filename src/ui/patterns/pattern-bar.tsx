"use client";

import { memo, useDeferredValue } from "react";
import { patternPlaces } from "@/core/beat/edits/alternate";
import type { Beat, Part, Pattern } from "@/core/beat/beat";
import { Miniature, sameLoops, type MiniatureLoop } from "../lanes/picture/miniature";
import { useKeyName } from "../common/use-key-name";
import { useBeat, useOpenPart, useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { openQueued } from "@/store/state/workspace-state";
import styles from "./pattern-bar.module.scss";
import { PatternMenu } from "./pattern-menu";

/** The patterns of the open part in the order of the number keys: what is in them, which one plays, which one is next. */
export function PatternBar() {
  const workspace = useWorkspace();
  const beat = useBeat();
  const { words: nextKey } = useKeyName("nextPattern");
  const part = useOpenPart();
  const shown = useOpenPattern();
  const queued = useWorkspaceState((state) => openQueued(state)?.patternRef.patternId);
  const running = useWorkspaceState(({ transport }) => transport.running);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const recording = useWorkspaceState(({ transport }) => transport.writing === "record");
  const together = useWorkspaceState(({ settings }) => settings.patternsTogether);
  return (
    <section className={styles.bar} aria-label="Patterns">
      {patternPlaces(part).map(({ original, alternate }, index) => {
        const key = index < 8 ? String(index + 1) : `⇧${index - 7}`;
        const loops = loopsAt(together ? beat.parts : [part], index);
        const state = { openId: shown.id, queuedId: queued };
        return (
          <span key={original.id} className={styles.pair}>
            <PlaceButton
              pattern={original}
              {...state}
              onChoose={() => workspace.patterns.chooseHalf(index, "original")}
            >
              <span className={`numerals ${styles.key}`}>{key}</span>
              <PlaceMiniature beat={beat} loops={loops} still={recording} />
            </PlaceButton>
            {alternate && (
              <PlaceButton
                pattern={alternate}
                {...state}
                onChoose={() => workspace.patterns.chooseHalf(index, "alternate")}
              >
                <span className={`numerals ${styles.key}`}>{key}′</span>
              </PlaceButton>
            )}
          </span>
        );
      })}
      <button
        type="button"
        className={`btn btn-sm ${styles.new}`}
        disabled={readOnly}
        title={`Next empty pattern, with the same length, grid and swing (${nextKey})`}
        onClick={() => workspace.patterns.nextEmpty()}
      >
        New <kbd className={styles.kbd}>{nextKey}</kbd>
      </button>
      <PatternMenu />
      <span className="visually-hidden" role="status">
        {running && queued !== undefined ? "Next pattern is waiting" : ""}
      </span>
    </section>
  );
}

interface PlaceButtonProps {
  readonly pattern: Pattern;
  readonly openId: number;
  readonly queuedId: number | undefined;
  readonly children: React.ReactNode;
  onChoose(): void;
}

function PlaceButton({
  pattern: { id, name, bars, alternateOf },
  openId,
  queuedId,
  children,
  onChoose,
}: PlaceButtonProps) {
  const next = id === queuedId;
  return (
    <button
      type="button"
      className={`${styles.place} ${next ? styles.next : ""} ${alternateOf === undefined ? "" : styles.alternate}`}
      aria-label={`${name}${next ? ", next" : ""}`}
      aria-current={id === openId}
      title={`${name}, ${bars} ${bars === 1 ? "bar" : "bars"}`}
      onClick={onChoose}
    >
      {children}
    </button>
  );
}

/** What parts have at a place. */
function loopsAt(parts: readonly Part[], index: number): MiniatureLoop[] {
  return parts.flatMap((part) => {
    const pattern = patternPlaces(part)[index]?.original;
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
