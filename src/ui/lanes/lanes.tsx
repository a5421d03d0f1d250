"use client";

import { useDeferredValue, useEffect, useMemo, useRef } from "react";
import { shownLanes } from "@/core/beat/lanes";
import { useOpenPart, useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import { EarlyLateStrip } from "./early-late-strip";
import { EraseField } from "./erase-field";
import { LaneField } from "./lane-field";
import { LaneHead } from "./lane-head";
import styles from "./lanes.module.scss";
import { Playhead } from "./playhead";
import { RegionShade } from "./region-shade";
import { Ruler } from "./ruler";
import { useSize } from "./use-size";

/** The loop, a row a pad, with where each hit sounds and where it was played. */
export function Lanes() {
  const part = useOpenPart();
  const octaves = useWorkspaceState((state) => state.octaves[part.id] ?? 0);
  const folded = useWorkspaceState((state) => state.folded);
  const pattern = useDeferredValue(useOpenPattern());
  const used = useMemo(() => new Set(pattern.passes.flatMap(({ hits }) => hits.map(({ lane }) => lane))), [pattern]);
  const field = useRef<HTMLDivElement>(null);
  const { widthPx, heightPx } = useSize(field);
  // The kick and the lowest note lie at the bottom.
  const pads = useMemo(() => shownLanes(part, pattern, octaves, folded).toReversed(), [part, pattern, octaves, folded]);
  const scroll = useRef<HTMLDivElement>(null);
  // What lies on the first keys is in sight.
  useEffect(() => {
    // Quirk: newer browsers answer with a promise, which is no undo of an effect.
    void scroll.current?.scrollTo({ top: scroll.current.scrollHeight });
  }, [part.id, octaves]);
  return (
    <section className={styles.lanes} aria-label="Lanes">
      <div ref={scroll} className={styles.scroll}>
        <div className={styles.rows} style={{ gridTemplateRows: `repeat(${pads.length}, minmax(1.3rem, 1fr))` }}>
          {pads.map((pad, row) => (
            <LaneHead key={pad.id} pad={pad} row={row} used={used.has(pad.id)} />
          ))}
          <div ref={field} className={styles.field} style={{ gridRow: `1 / span ${pads.length}` }}>
            <LaneField pads={pads} widthPx={widthPx} heightPx={heightPx} />
            <RegionShade widthPx={widthPx} />
            <EraseField pads={pads} widthPx={widthPx} heightPx={heightPx} />
          </div>
        </div>
      </div>
      <Ruler widthPx={widthPx} />
      <EarlyLateStrip widthPx={widthPx} />
      <Playhead widthPx={widthPx} />
    </section>
  );
}
