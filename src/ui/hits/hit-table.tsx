"use client";

import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import type { HitRow } from "@/core/editing/hit-rows";
import { useOfBeat, useOpenInstrument, useWorkspaceState } from "../workspace/use-workspace";
import { PART_COLUMNS, type HitColumn, type Sorting } from "./hit-columns";
import { HitTableRow } from "./hit-table-row";
import styles from "./hits-view.module.scss";
import { useGridKeys, type GridCell } from "./use-grid-keys";
import { usePlayingRow } from "./use-playing-row";

const ROW_PX = 26;

export interface HitTableProps {
  readonly rows: readonly HitRow[];
  readonly columns: readonly HitColumn[];
  readonly sorting: Sorting;
  onSort(sorting: Sorting): void;
}

/** Thousands of hits, of which those in sight are built. */
export function HitTable({ rows, columns, sorting, onSort }: HitTableProps) {
  const scroll = useRef<HTMLDivElement>(null);
  const meter = useOfBeat((beat) => beat.meter);
  const selected = useWorkspaceState((state) => state.selected);
  const [cell, setCell] = useState<GridCell>({ row: 0, column: 0 });
  const [editing, setEditing] = useState<string>();
  // oxlint-disable-next-line react/incompatible-library -- its functions go stale where they are memoised: rows get numbers only
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    scrollPaddingStart: ROW_PX,
  });
  const at = { row: Math.min(cell.row, Math.max(0, rows.length - 1)), column: cell.column };
  const grid = useGridKeys({
    rows,
    columns: columns.length,
    cell: at,
    editing: editing !== undefined,
    onCell: setCell,
    onEdit: setEditing,
  });
  usePlayingRow(rows, (row) => virtual.scrollToIndex(row, { align: "center" }));
  useEffect(() => virtual.scrollToIndex(at.row), [virtual, at.row]);
  const chosen = new Set(selected);
  return (
    <div
      ref={scroll}
      className={`${styles.scroll} ${columns === PART_COLUMNS ? styles.ofPart : ""}`}
      role="grid"
      aria-label="Hits"
      aria-multiselectable
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length}
      {...grid}
    >
      <HeadRow columns={columns} sorting={sorting} onSort={onSort} />
      <div role="rowgroup" style={{ height: virtual.getTotalSize(), position: "relative" }}>
        {virtual.getVirtualItems().map(({ index, start }) => (
          <HitTableRow
            key={rows[index]!.id}
            row={rows[index]!}
            columns={columns}
            index={index}
            top={start}
            meter={meter}
            chosen={chosen.has(rows[index]!.id)}
            column={index === at.row ? at.column : undefined}
            editing={index === at.row ? editing : undefined}
            onLeave={() => setEditing(undefined)}
          />
        ))}
      </div>
    </div>
  );
}

function HeadRow({ columns, sorting, onSort }: Omit<HitTableProps, "rows">) {
  const tonal = useOpenInstrument().kind === "tonal";
  const nameOf = ({ id, name }: HitColumn) => (id === "lane" && tonal ? "Pitch" : name || "State");
  return (
    <div role="row" aria-rowindex={1} className={`${styles.row} ${styles.headRow}`}>
      {columns.map((column) => {
        const mine = column.id === sorting.column;
        return (
          <div
            key={column.id}
            role="columnheader"
            aria-sort={mine ? (sorting.down ? "descending" : "ascending") : "none"}
            className={styles[column.id]}
          >
            <button type="button" onClick={() => onSort({ column: column.id, down: mine && !sorting.down })}>
              {nameOf(column)}
              <span aria-hidden>{mine ? (sorting.down ? " ▾" : " ▴") : ""}</span>
            </button>
          </div>
        );
      })}
    </div>
  );
}
