"use client";

import { memo, useEffect, useRef } from "react";
import { Check2 } from "react-bootstrap-icons";
import type { Echo } from "@/core/recover/echo";
import { useBeat, useOpenPart, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { EchoPicture } from "./echo-picture";
import styles from "./echoes.module.scss";
import { OpenEchoView } from "./open-echo-view";

const DAY_MS = 24 * 60 * 60_000;
const DAY = new Intl.DateTimeFormat(undefined, { dateStyle: "short" });
const TIME = new Intl.DateTimeFormat(undefined, { timeStyle: "medium", hour12: false });

/** One echo: its picture, when, how long, with what; opened, the ways to bring it back. */
export const EchoRow = memo(function EchoRow({ echo, first }: { readonly echo: Echo; readonly first: boolean }) {
  const workspace = useWorkspace();
  const { id: beatId } = useBeat();
  const part = useOpenPart();
  const open = useWorkspaceState(({ openEcho }) => openEcho?.whole.id === echo.id);
  const used = useWorkspaceState(({ usedEchoes }) => usedEchoes.has(echo.id));
  const item = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (open) item.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  const recorded = workspace.echoDesk.isRecorded(echo);
  const { along, beatId: playedWith } = echo.hits[0];
  const pattern = part.patterns.find(({ id }) => playedWith === beatId && id === along?.patternId);
  const laps = new Set(echo.hits.map((hit) => hit.along?.lap)).size;
  const seconds = ((echo.endMs - echo.id) / 1000).toFixed(0);
  const withWhat = pattern ? `with ${pattern.name}, ${laps} ${laps === 1 ? "lap" : "laps"}` : "free";
  return (
    <li className={styles.echo} ref={item}>
      <button
        type="button"
        className={styles.summary}
        aria-expanded={open}
        onClick={() => workspace.echoDesk.open(open ? undefined : echo)}
      >
        {!open && <EchoPicture echo={echo} className={styles.picture} />}
        <span className={styles.line}>
          <span className="numerals">{whenOf(echo.id)}</span>, {seconds} s, {echo.hits.length}{" "}
          {echo.hits.length === 1 ? "hit" : "hits"}, {withWhat}
          {recorded ? (
            <em> (recorded)</em>
          ) : (
            used && (
              <span className={styles.used} title="Brought back">
                {" "}
                <Check2 aria-hidden />
                <span className="visually-hidden">brought back</span>
              </span>
            )
          )}
        </span>
      </button>
      {open && <OpenEchoView mayJoin={!first} />}
    </li>
  );
});

function whenOf(timeMs: number): string {
  const old = Date.now() - timeMs > DAY_MS;
  return `${old ? `${DAY.format(timeMs)} ` : ""}${TIME.format(timeMs)}`;
}
