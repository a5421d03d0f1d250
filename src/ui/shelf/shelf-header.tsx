"use client";

import { useRouter } from "next/navigation";
import { useRef, type ChangeEvent } from "react";
import type { Shelf } from "@/store/shelf/shelf";
import { Mark } from "../common/mark";
import type { Theme } from "../theme/theme-cookie";
import { ThemeToggle } from "../theme/theme-toggle";
import styles from "./shelf.module.scss";

/** The product's name, and how beats come onto the shelf. */
export function ShelfHeader({ shelf, theme }: { readonly shelf: Shelf; readonly theme: Theme }) {
  const router = useRouter();
  const open = (id: string) => router.push(`/beat/${id}`);
  return (
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
        <ImportButton onFiles={(files) => void shelf.importFiles(files)} />
        <ThemeToggle initial={theme} />
      </div>
    </header>
  );
}

function ImportButton({ onFiles }: { onFiles(files: File[]): void }) {
  const picker = useRef<HTMLInputElement>(null);
  const choose = ({ currentTarget }: ChangeEvent<HTMLInputElement>) => {
    const files = [...(currentTarget.files ?? [])];
    currentTarget.value = "";
    onFiles(files);
  };
  return (
    <>
      <button type="button" className="btn" onClick={() => picker.current?.click()}>
        Import
      </button>
      <input
        ref={picker}
        type="file"
        className="d-none"
        aria-label="Import beat or MIDI files"
        accept=".json,.zip,.mid,.midi,application/json,application/zip,audio/midi"
        multiple
        onChange={choose}
      />
    </>
  );
}
