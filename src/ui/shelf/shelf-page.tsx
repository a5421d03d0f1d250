"use client";

import { useEffect, useState, type DragEvent } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { useStore } from "zustand";
import { appRepository } from "@/store/persistence/app-repository";
import { Shelf } from "@/store/shelf/shelf";
import type { BeatRecord } from "@/store/persistence/rows/rows";
import type { Theme } from "../theme/theme-cookie";
import { MEMORY_TEXT } from "../workspace/memory-text";
import { useLeaveWarning } from "../workspace/use-leave-warning";
import { BeatCard } from "./beat-card";
import { DamagedList, UndrawableCard } from "./damaged-list";
import { RoomUsed } from "./room-used";
import { ShelfHeader } from "./shelf-header";
import styles from "./shelf.module.scss";
import { ShelfNoticeBar } from "./shelf-notice-bar";
import { useNear } from "./use-near";

/** All beats of this browser. */
export function ShelfPage({ theme }: { readonly theme: Theme }) {
  const shelf = useShelf();
  const { records, readTo, checked, damaged, unreadable, memoryReason, notice } = useStore(shelf.store);
  const { dropping, ...drop } = useFileDrop((files) => void shelf.importFiles(files));
  useLeaveWarning();
  return (
    <div className={`${styles.page} ${dropping ? styles.dropping : ""}`} {...drop}>
      <ShelfHeader shelf={shelf} theme={theme} />
      <main>
        {memoryReason && (
          <p className={styles.banner} role="status">
            {MEMORY_TEXT[memoryReason]}
          </p>
        )}
        {records === undefined && <p role="status">Reading the shelf…</p>}
        {!checked && (
          <p className={styles.banner} role="status">
            A part of the app could not be loaded, so the beats that are kept here are not shown yet. They are as they
            were; it is tried again every few seconds.
          </p>
        )}
        {checked && records?.length === 0 && (
          <p>The shelf is empty. Make a new beat, or drop a beat file or a MIDI file here.</p>
        )}
        {records && <Cards records={records} readTo={readTo} shelf={shelf} />}
        <DamagedList damaged={damaged} unreadable={unreadable} shelf={shelf} />
        <p className={styles.hint}>
          Drop beat files or MIDI files anywhere on this page. Everything stays in this browser, which also opens it
          without a network. <RoomUsed />
        </p>
      </main>
      <ShelfNoticeBar notice={notice} onDismiss={() => shelf.dismiss()} />
    </div>
  );
}

interface CardsProps {
  readonly records: readonly BeatRecord[];
  readonly readTo: number | undefined;
  readonly shelf: Shelf;
}

/** The beats as cards; of many only those that one has come to are read. */
function Cards({ records, readTo, shelf }: CardsProps) {
  const end = useNear(() => void shelf.showMore());
  return (
    <ul className={styles.cards} aria-label="Beats">
      {records.map((record) => (
        <ErrorBoundary key={record.id} fallbackRender={() => <UndrawableCard record={record} />}>
          <BeatCard record={record} shelf={shelf} />
        </ErrorBoundary>
      ))}
      {/* Another one with each step, so that its place is looked at anew. */}
      {readTo !== undefined && <li key={`more than ${readTo}`} ref={end} role="presentation" />}
    </ul>
  );
}

/** The shelf, as long as its page is open, read anew whenever somebody comes back to it. */
function useShelf(): Shelf {
  const [shelf] = useState(() => new Shelf(appRepository()));
  useEffect(() => {
    const refresh = () => void shelf.refresh();
    const close = shelf.open();
    window.addEventListener("focus", refresh);
    return () => {
      close();
      window.removeEventListener("focus", refresh);
    };
  }, [shelf]);
  return shelf;
}

function useFileDrop(take: (files: File[]) => void) {
  const [dropping, setDropping] = useState(false);
  return {
    dropping,
    onDragOver: (event: DragEvent) => {
      event.preventDefault();
      setDropping(true);
    },
    onDragLeave: (event: DragEvent) => event.currentTarget === event.target && setDropping(false),
    onDrop: (event: DragEvent) => {
      event.preventDefault();
      setDropping(false);
      take([...event.dataTransfer.files]);
    },
  };
}
