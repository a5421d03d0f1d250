"use client";

import Link from "next/link";
import type { Beat } from "@/core/beat/beat";
import { download, fileNameOf } from "../common/download";
import styles from "./workspace.module.scss";
import { wordsOf } from "@/store/words-of";

/** When drawing fails: the beat is whole in memory, and the first thing offered is to take it away. */
export function RescuePage({ beat, error }: { readonly beat: Beat; readonly error: unknown }) {
  const save = async () => {
    const { writeBeatFile } = await import("@/core/formats/beat-file");
    download(writeBeatFile(beat), `${fileNameOf(beat.name)}.json`, "application/json");
  };
  return (
    <main className={styles.message} role="alert">
      <h1>Something in the page broke. The beat did not.</h1>
      <p>“{beat.name}” is as you left it. Save it to a file, then load the page again.</p>
      <p className="numerals">{wordsOf(error)}</p>
      <div className="d-flex gap-2">
        <button type="button" className="btn btn-primary" onClick={() => void save()}>
          Save the beat
        </button>
        <button type="button" className="btn" onClick={() => location.reload()}>
          Load again
        </button>
        <Link className="btn" href="/">
          Shelf
        </Link>
      </div>
    </main>
  );
}
