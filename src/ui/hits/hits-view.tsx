"use client";

import { useDeferredValue, useMemo, useState } from "react";
import { hitRows, partRows, rowsAsText, type HitRow } from "@/core/editing/hit-rows";
import { countOf } from "@/store/editing/hit-editor";
import { download, fileNameOf } from "../common/download";
import { useBeat, useOfBeat, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { HitBar } from "./hit-bar";
import { HitTable } from "./hit-table";
import { HIT_COLUMNS, PART_COLUMNS, sortedRows, type Sorting } from "./hit-columns";
import styles from "./hits-view.module.scss";

/** All hits of the pattern, or of the whole part, in a table, in which everything can be typed. */
export default function HitsView() {
  const beat = useBeat();
  const patternRef = useWorkspaceState((state) => state.patternRef);
  const [sorting, setSorting] = useState<Sorting>({ column: "place", down: false });
  const [filter, setFilter] = useState("");
  const [chosenOnly, setChosenOnly] = useState(false);
  const selected = useWorkspaceState((state) => state.selected);
  const [wholePart, setWholePart] = useState(false);
  const all = useMemo(
    () => (wholePart ? partRows(beat, patternRef.partId) : hitRows(beat, patternRef)),
    [beat, patternRef, wholePart],
  );
  const wanted = useDeferredValue(filter);
  const rows = useMemo(() => {
    const chosen = chosenOnly ? new Set(selected) : undefined;
    const kept = all.filter((row) => matches(row, wanted) && (!chosen || chosen.has(row.id)));
    return sortedRows(kept, sorting);
  }, [all, wanted, chosenOnly, selected, sorting]);
  return (
    <section className={styles.view} aria-label={`Hits of the ${wholePart ? "part" : "pattern"}`}>
      <header className={styles.head}>
        <h2>Hits</h2>
        <span role="status">
          {rows.length === all.length ? countOf(all.length) : `${rows.length} of ${countOf(all.length)}`}
        </span>
        <input
          className="form-control form-control-sm"
          aria-label="Filter by pad, pass or state"
          placeholder="Filter: hat, covered, Pass 2"
          value={filter}
          onChange={(event) => setFilter(event.currentTarget.value)}
        />
        <Check checked={wholePart} onChange={setWholePart}>
          Whole part
        </Check>
        <Check checked={chosenOnly} onChange={setChosenOnly}>
          Chosen only
        </Check>
        <FollowToggle />
        <TextButtons rows={rows} />
      </header>
      <HitTable rows={rows} columns={wholePart ? PART_COLUMNS : HIT_COLUMNS} sorting={sorting} onSort={setSorting} />
      <HitBar />
    </section>
  );
}

interface CheckProps {
  readonly checked: boolean;
  readonly children: string;
  onChange(checked: boolean): void;
}

function Check({ checked, children, onChange }: CheckProps) {
  return (
    <label className={styles.check}>
      <input
        type="checkbox"
        className="form-check-input"
        checked={checked}
        onChange={(event) => onChange(event.currentTarget.checked)}
      />
      {children}
    </label>
  );
}

function matches({ laneName, passName, patternName, state, byHand }: HitRow, filter: string): boolean {
  const wanted = filter.trim().toLowerCase();
  if (wanted === "") return true;
  return [laneName, passName, patternName, state, byHand ? "by hand" : ""].some((text) =>
    text.toLowerCase().includes(wanted),
  );
}

function FollowToggle() {
  const { lanes } = useWorkspace();
  const follow = useWorkspaceState((state) => state.follow);
  return (
    <button type="button" className="btn btn-sm" aria-pressed={follow} onClick={() => lanes.toggleFollow()}>
      Follow
    </button>
  );
}

/** The rows for other programs. */
function TextButtons({ rows }: { readonly rows: readonly HitRow[] }) {
  const { store } = useWorkspace();
  const { meter, name } = useOfBeat((beat) => beat);
  const copy = async () => {
    const copied = await navigator.clipboard.writeText(rowsAsText(rows, meter, "\t")).then(
      () => `Copied ${countOf(rows.length)} as text`,
      () => "The browser does not let text be copied here.",
    );
    store.setState(({ noticeCount }) => ({ notice: copied, noticeCount: noticeCount + 1 }));
  };
  return (
    <>
      <button type="button" className="btn btn-sm" onClick={() => void copy()}>
        Copy as text
      </button>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => download(rowsAsText(rows, meter, ","), `${fileNameOf(name)} hits.csv`, "text/csv")}
      >
        CSV
      </button>
    </>
  );
}
