"use client";

import { CircleFill } from "../icons/generated/circle-fill";
import { ChevronLeft } from "../icons/generated/chevron-left";
import { ChevronRight } from "../icons/generated/chevron-right";
import type { Pass } from "@/core/beat/beat";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./passes.module.scss";

/** Takes of one recording, of which one sounds: step through them, keep one or several, drop the rest. */
export default function TakesRow({ takes, open }: { readonly takes: readonly Pass[]; readonly open: boolean }) {
  const workspace = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const index = takes.findIndex(({ muted }) => !muted);
  const chosen = takes[index];
  const step = (by: number) => workspace.chooseTake(takes[(Math.max(index, 0) + by + takes.length) % takes.length]!.id);
  return (
    <li className={`${styles.takes} ${open ? styles.open : ""}`}>
      <div className={styles.head}>
        <span className={styles.name}>
          {open && <CircleFill className={styles.dot!} aria-label="Being recorded" />}
          {chosen ? chosen.name : "No take"} <span className={styles.of}>of {takes.length}</span>
        </span>
        <span className={`numerals ${styles.count}`}>{chosen ? `${chosen.hits.length} hits` : "silent"}</span>
      </div>
      <span className={styles.steps}>
        <button
          type="button"
          className="btn btn-sm"
          aria-label="Take before"
          disabled={readOnly || takes.length < 2}
          onClick={() => step(-1)}
        >
          <ChevronLeft aria-hidden />
        </button>
        <button
          type="button"
          className="btn btn-sm"
          aria-label="Take after"
          disabled={readOnly || takes.length < 2}
          onClick={() => step(1)}
        >
          <ChevronRight aria-hidden />
        </button>
      </span>
      <span className={styles.tools}>
        <button
          type="button"
          className="btn btn-sm"
          disabled={readOnly || !chosen || open}
          onClick={() => chosen && workspace.keepTake(chosen.id)}
        >
          Use take
        </button>
        <button
          type="button"
          className="btn btn-sm"
          title={`Deletes the ${takes.length} takes that were not kept`}
          disabled={readOnly || open}
          onClick={() => workspace.dropTakes(takes[0]!.take!)}
        >
          Drop {chosen ? "all" : "rest"}
        </button>
      </span>
    </li>
  );
}
