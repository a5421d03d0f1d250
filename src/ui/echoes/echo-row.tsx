"use client";

import { memo, useEffect, useRef } from "react";
import { Check2 } from "../icons/generated/check2";
import type { Beat } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import { homeOf } from "@/core/recover/bring-back";
import type { AlongHit } from "@/core/recover/bring-back-along";
import type { Echo } from "@/core/recover/echo";
import { missingHits } from "@/core/recover/missing-hits";
import { useBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { whenOf } from "../common/when-of";
import { EchoPicture } from "./echo-picture";
import styles from "./echoes.module.scss";
import { OpenEchoView } from "./open-echo-view";

/** One echo: its picture, when, how long, with what; opened, the ways to bring it back. */
export const EchoRow = memo(function EchoRow({ echo, first }: { readonly echo: Echo; readonly first: boolean }) {
  const workspace = useWorkspace();
  const beat = useBeat();
  const open = useWorkspaceState(({ openEcho }) => openEcho?.whole.id === echo.id);
  const item = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (open) item.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  const there = missingHits(echo, beat).length === 0;
  const seconds = ((echo.endMs - echo.id) / 1000).toFixed(0);
  return (
    <li className={styles.echo} ref={item}>
      <button
        type="button"
        className={styles.summary}
        aria-expanded={open}
        onClick={() => workspace.review.open(open ? undefined : echo)}
      >
        {!open && <EchoPicture echo={echo} className={styles.picture!} />}
        <span className={styles.line}>
          <span className="numerals">{whenOf(echo.id)}</span>, {seconds} s, {echo.hits.length}{" "}
          {echo.hits.length === 1 ? "hit" : "hits"}, {withWhat(echo, beat)}
          {there && (
            <span className={styles.used} title="In the beat">
              {" "}
              <Check2 aria-hidden />
              <span className="visually-hidden">in the beat</span>
            </span>
          )}
        </span>
      </button>
      {open && <OpenEchoView mayJoin={!first} />}
    </li>
  );
});

/** What it was played with: a pattern here, another beat at its tempo, or nothing. */
function withWhat(echo: Echo, beat: Beat): string {
  const along = echo.hits.find((hit) => hit.along) as AlongHit | undefined;
  if (!along) return "free";
  const home = homeOf(along, beat);
  const laps = new Set(echo.hits.map((hit) => hit.along?.lap)).size;
  const { bpm, beatName } = along.along;
  const what = home
    ? findPattern(beat, home).name
    : `${along.beatId === beat.id ? "a pattern that is gone" : (beatName ?? "another beat")} at ${Number(bpm.toFixed(1))} BPM`;
  return `with ${what}, ${laps} ${laps === 1 ? "lap" : "laps"}`;
}
