"use client";

import Link from "next/link";
import { useEffect, useRef, useState } from "react";
import type { BeatRecord } from "@/store/persistence/rows/rows";
import type { Shelf } from "@/store/shelf/shelf";
import { lazyView } from "../common/lazy-view";
import { Miniature } from "../lanes/picture/miniature";
import styles from "./shelf.module.scss";

/** Menus place themselves, which takes as much code as the rest of the shelf. */
const BeatMenu = lazyView(() => import("./beat-menu"));

/** A beat on the shelf. */
export function BeatCard({ record, shelf }: { readonly record: BeatRecord; readonly shelf: Shelf }) {
  const { beat, changedAt } = record;
  const [renaming, setRenaming] = useState(false);
  const loops = beat.parts.map((part) => ({ part, pattern: part.patterns[0]! }));
  const { bars } = loops[0]!.pattern;
  return (
    <li className={styles.card}>
      <Link href={`/beat/${beat.id}`} className={styles.picture} tabIndex={-1} aria-hidden>
        <Miniature beat={beat} loops={loops} className={styles.miniature!} />
      </Link>
      <div className={styles.cardText}>
        {renaming ? (
          <RenameField
            name={beat.name}
            onDone={(name) => {
              setRenaming(false);
              if (name !== undefined) void shelf.rename(record.id, name);
            }}
          />
        ) : (
          <h2 className={styles.cardName}>
            <Link href={`/beat/${beat.id}`}>{beat.name}</Link>
          </h2>
        )}
        <p className={`numerals ${styles.facts}`}>
          {Number(beat.bpm.toFixed(2))} BPM · {beat.meter.beats}/{beat.meter.unit} · {bars}{" "}
          {bars === 1 ? "bar" : "bars"}
        </p>
        <p className={styles.changed}>
          Changed <ChangedAt time={changedAt} />
        </p>
      </div>
      <BeatMenu record={record} shelf={shelf} onRename={() => setRenaming(true)} />
    </li>
  );
}

function RenameField({ name, onDone }: { readonly name: string; onDone(name: string | undefined): void }) {
  const [typed, setTyped] = useState(name);
  const input = useRef<HTMLInputElement>(null);
  // Escape ends the field, whose blur would otherwise take the name after all.
  const ended = useRef(false);
  useEffect(() => input.current?.select(), []);
  const end = (result: string | undefined) => {
    if (!ended.current) onDone(result);
    ended.current = true;
  };
  return (
    <input
      ref={input}
      className="form-control"
      aria-label={`New name for ${name}`}
      value={typed}
      maxLength={120}
      autoFocus
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={() => end(typed)}
      onKeyDown={(event) => {
        if (event.key === "Enter") end(typed);
        if (event.key === "Escape") end(undefined);
      }}
    />
  );
}

const RELATIVE = new Intl.RelativeTimeFormat("en", { numeric: "auto" });
const UNITS = [
  ["day", 86_400_000],
  ["hour", 3_600_000],
  ["minute", 60_000],
] as const;

function ChangedAt({ time }: { readonly time: number }) {
  const [now] = useState(() => Date.now());
  const unit = UNITS.find(([, ms]) => now - time >= ms);
  const words = unit ? RELATIVE.format(-Math.floor((now - time) / unit[1]), unit[0]) : "just now";
  return <time dateTime={new Date(time).toISOString()}>{words}</time>;
}
