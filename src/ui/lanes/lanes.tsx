"use client";

import { useEffect, useMemo, useRef } from "react";
import { lanesIn, shownLanes } from "@/core/beat/lanes";
import { useOpenPart, useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import { EraseField } from "./erase-field";
import { LaneField } from "./lane-field";
import { LaneHead } from "./lane-head";
import { LaneLevels } from "./lane-levels";
import { LaneStrip } from "./strips/lane-strip";
import styles from "./picture/lanes.module.scss";
import { Playhead } from "./playhead";
import { RegionShade } from "./ruler/region-shade";
import { HitBar } from "../hits/hit-bar";
import { Ruler } from "./ruler/ruler";
import { StepCursor } from "./step-cursor";
import { useSameItems } from "../common/use-same-items";
import { useSize } from "./picture/use-size";

/** The least that can be pointed at (WCAG 2.2, 2.5.8); what does not fit is scrolled to. */
const MIN_LANE_PX = 24;

/** The loop, a row a pad, with where each hit sounds and where it was played. */
export function Lanes() {
  const part = useOpenPart();
  const octaves = useWorkspaceState((state) => state.octaves[part.id] ?? 0);
  const folded = useWorkspaceState((state) => state.folded);
  const strip = useWorkspaceState((state) => state.strip);
  const pattern = useOpenPattern();
  const used = useMemo(() => lanesIn(pattern), [pattern]);
  const field = useRef<HTMLDivElement>(null);
  const { widthPx, heightPx } = useSize(field);
  // The kick and the lowest note lie at the bottom.
  const pads = useSameItems(shownLanes(part, pattern, octaves, folded).toReversed());
  const laneIds = useMemo(() => pads.map(({ id }) => id), [pads]);
  const scroll = useRef<HTMLDivElement>(null);
  // What lies on the first keys is in sight.
  useEffect(() => {
    // Quirk: newer browsers answer with a promise, which is no undo of an effect.
    void scroll.current?.scrollTo({ top: scroll.current.scrollHeight });
  }, [part.id, octaves, strip]);
  return (
    <section className={styles.lanes} aria-label="Lanes">
      <div ref={scroll} className={styles.scroll}>
        <div
          className={styles.rows}
          style={{
            height: `max(100%, ${pads.length * MIN_LANE_PX}px)`,
            gridTemplateRows: `repeat(${pads.length}, minmax(0, 1fr))`,
          }}
        >
          {pads.map((pad, row) => (
            <LaneHead key={pad.id} pad={pad} row={row} used={used.has(pad.id)} />
          ))}
          <LaneLevels lanes={laneIds} heightPx={heightPx} />
          <div ref={field} className={styles.field} style={{ gridRow: `1 / span ${pads.length}` }}>
            <LaneField pads={pads} widthPx={widthPx} heightPx={heightPx} />
            <RegionShade widthPx={widthPx} />
            <StepCursor widthPx={widthPx} />
            <EraseField pads={pads} widthPx={widthPx} heightPx={heightPx} />
          </div>
        </div>
      </div>
      <Ruler widthPx={widthPx} />
      <LaneStrip widthPx={widthPx} />
      <HitBar />
      <Playhead widthPx={widthPx} />
    </section>
  );
}
