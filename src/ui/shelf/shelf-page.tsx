"use client";

import { useRouter } from "next/navigation";
import { useEffect, useRef, useState, type DragEvent } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { useStore } from "zustand";
import { appRepository } from "@/store/persistence/app-repository";
import { Shelf } from "@/store/shelf";
import { ThemeToggle } from "../theme/theme-toggle";
import type { Theme } from "../theme/theme-cookie";
import { MEMORY_TEXT } from "../workspace/memory-text";
import { Mark } from "../common/mark";
import { useLeaveWarning } from "../workspace/use-leave-warning";
import { BeatCard } from "./beat-card";
import { DamagedList, UndrawableCard } from "./damaged-list";
import { RoomUsed } from "./room-used";
import styles from "./shelf.module.scss";
import { ShelfNoticeBar } from "./shelf-notice-bar";

/** All beats of this browser. */
export function ShelfPage({ theme }: { readonly theme: Theme }) {
  const router = useRouter();
  const [shelf] = useState(() => new Shelf(appRepository()));
  const { records, damaged, damagedRecords, memoryReason, notice } = useStore(shelf.store);
  const picker = useRef<HTMLInputElement>(null);
  const [dropping, setDropping] = useState(false);
  useEffect(() => {
    const refresh = () => void shelf.refresh();
    const close = shelf.open();
    window.addEventListener("focus", refresh);
    return () => {
      close();
      window.removeEventListener("focus", refresh);
    };
  }, [shelf]);
  useLeaveWarning();

  const open = (id: string) => router.push(`/beat/${id}`);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setDropping(false);
    void shelf.importFiles([...event.dataTransfer.files]);
  };
  return (
    <div
      className={`${styles.page} ${dropping ? styles.dropping : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        setDropping(true);
      }}
      onDragLeave={(event) => event.currentTarget === event.target && setDropping(false)}
      onDrop={drop}
    >
      <header className={styles.header}>
        <div>
          <h1>
            <Mark /> Echo Pocket
          </h1>
          <p className={styles.tagline}>Play it round and round, and keep what grooves.</p>
        </div>
        <div className={styles.actions}>
          <button type="button" className="btn btn-primary" onClick={() => void shelf.create().then(open)}>
            New beat
          </button>
          <button type="button" className="btn" onClick={() => picker.current?.click()}>
            Import
          </button>
          <input
            ref={picker}
            type="file"
            className="d-none"
            aria-label="Import beat or MIDI files"
            accept=".json,.mid,.midi,application/json,audio/midi"
            multiple
            onChange={(event) => {
              const files = [...(event.currentTarget.files ?? [])];
              event.currentTarget.value = "";
              void shelf.importFiles(files);
            }}
          />
          <ThemeToggle initial={theme} />
        </div>
      </header>
      <main>
        {memoryReason && (
          <p className={styles.banner} role="status">
            {MEMORY_TEXT[memoryReason]}
          </p>
        )}
        {records === undefined && <p role="status">Reading the shelf…</p>}
        {records?.length === 0 && <p>The shelf is empty. Make a new beat, or drop a beat file or a MIDI file here.</p>}
        <ul className={styles.cards} aria-label="Beats">
          {records?.map((record) => (
            <ErrorBoundary key={record.id} fallbackRender={() => <UndrawableCard record={record} />}>
              <BeatCard record={record} shelf={shelf} />
            </ErrorBoundary>
          ))}
        </ul>
        <DamagedList damaged={damaged} records={damagedRecords} shelf={shelf} />
        <p className={styles.hint}>
          Drop beat files or MIDI files anywhere on this page. Everything stays in this browser, which also opens it
          without a network. <RoomUsed />
        </p>
      </main>
      <ShelfNoticeBar notice={notice} onDismiss={() => shelf.dismiss()} />
    </div>
  );
}
