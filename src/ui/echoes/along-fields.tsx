"use client";

import { LAP_FOLDS, type LapFold } from "@/core/recover/bring-back-along";
import type { OpenEcho } from "@/store/state/open-echo";
import { alongHits, homeOf } from "@/core/recover/bring-back";
import { SettingSelect } from "../common/fields/setting-select";
import { TempoChoice } from "./tempo-choice";
import { useBeat, useWorkspace } from "../workspace/use-workspace";
import styles from "./echoes.module.scss";

const FOLD_WORDS: Readonly<Record<LapFold, string>> = {
  merged: "all, merged",
  last: "the last full one",
  one: "one of them",
  takes: "each a take",
  unrolled: "one after the other",
};

/** How what was played with the loop comes back to it. */
export function AlongFields({ open: { echo, along, tempo } }: { readonly open: OpenEcho }) {
  const { recall } = useWorkspace();
  const beat = useBeat();
  const hits = alongHits(echo, beat);
  const laps = [...new Set(hits.map((hit) => hit.along.lap))].sort((a, b) => a - b);
  const home = homeOf(hits[0]!, beat);
  const folds = Object.fromEntries(LAP_FOLDS.map((fold) => [fold, FOLD_WORDS[fold]]));
  const lapWords = Object.fromEntries(laps.map((lap) => [String(lap), lap < 0 ? "the count-in" : `lap ${lap + 1}`]));
  return (
    <div className={styles.pair}>
      <SettingSelect
        label="Laps"
        value={along.fold}
        options={folds}
        onChange={(fold: LapFold) => recall.setRecall({ along: { fold } })}
      />
      {along.fold === "one" && (
        <SettingSelect
          label="Which lap"
          value={String(along.lap)}
          options={lapWords}
          onChange={(lap) => recall.setRecall({ along: { lap: Number(lap) } })}
        />
      )}
      {home && (
        <SettingSelect
          label="Into"
          value={along.fold === "unrolled" ? "new" : along.into}
          options={{ same: "its pattern", new: "a new pattern" }}
          disabled={along.fold === "unrolled"}
          onChange={(into: "same" | "new") => recall.setRecall({ along: { into } })}
        />
      )}
      {!home && (
        <TempoChoice bpm={hits[0]!.along.bpm} tempo={tempo} onChange={(value) => recall.setRecall({ tempo: value })} />
      )}
    </div>
  );
}
