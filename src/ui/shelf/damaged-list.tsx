"use client";

import type { DamagedBeat } from "@/store/persistence/rows/kept-beat";
import type { Unreadable } from "@/store/persistence/repository";
import type { BeatRecord } from "@/store/persistence/rows/rows";
import type { Shelf } from "@/store/shelf/shelf";
import { download } from "../common/download";
import styles from "./shelf.module.scss";

/** Longer reasons are in the file. */
const REASON_CHARACTERS = 160;
const NAME_CHARACTERS = 60;

export interface DamagedListProps {
  readonly damaged: readonly DamagedBeat[];
  readonly unreadable: readonly Unreadable[];
  readonly shelf: Shelf;
}

const WHAT: Readonly<Record<Unreadable["of"], string>> = {
  journal: "A pass that was being recorded",
  lookback: "A stretch of remembered playing",
  backup: "What a page had not saved yet when it was closed",
  grooves: "A groove of your own",
  ownKits: "A kit of your own",
  profiles: "What a device was taught",
  keptStates: "A kept state of a beat",
};

/** What can't be read any more: it is kept as it is, and can be taken away or let go of. */
export function DamagedList({ damaged, unreadable, shelf }: DamagedListProps) {
  const count = damaged.length + unreadable.length;
  if (count === 0) return null;
  return (
    <section className={styles.damaged} aria-label="What can't be read">
      <h2>{count === 1 ? "One thing here can’t be read." : `${count} things here can’t be read.`}</h2>
      <p>
        Everything else is as it was. What is damaged is kept; a file of it can be mended by hand or sent to somebody.
      </p>
      <ul>
        {damaged.map(({ id, problem }) => (
          <li key={id}>
            Beat “{id}”: {problem.slice(0, REASON_CHARACTERS)}
          </li>
        ))}
        {unreadable.map(({ kept, key, of, problem }) => (
          <li key={`${kept} ${key}`}>
            {WHAT[of]}
            {typeof key === "string" && ` “${key.slice(0, NAME_CHARACTERS)}”`}: {problem.slice(0, REASON_CHARACTERS)}
          </li>
        ))}
      </ul>
      <button type="button" className="btn btn-sm" onClick={() => saveAsIs([...damaged, ...unreadable])}>
        Save as it is
      </button>
      <button type="button" className="btn btn-sm" onClick={() => confirmed() && void shelf.forgetDamaged()}>
        Delete for good
      </button>
    </section>
  );
}

/** A beat whose card can't be drawn; it may still open, and its file can be taken away. */
export function UndrawableCard({ record }: { readonly record: BeatRecord }) {
  return (
    <li className={styles.card}>
      <div className={styles.cardText}>
        <h2 className={styles.cardName}>{record.id}</h2>
        <p>This beat can’t be drawn.</p>
        <button type="button" className="btn btn-sm" onClick={() => saveAsIs([record])}>
          Save as it is
        </button>
      </div>
    </li>
  );
}

function confirmed(): boolean {
  return window.confirm("Delete what can’t be read? It can’t be brought back.");
}

function saveAsIs(what: readonly unknown[]): void {
  download(JSON.stringify(what, null, 1), "what-cannot-be-read.json", "application/json");
}
