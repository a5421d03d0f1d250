"use client";

import { memo, useEffect, useRef } from "react";
import type { HitRow } from "@/core/editing/hit-rows";
import type { Meter } from "@/core/time/meter";
import { useWorkspace } from "../workspace/use-workspace";
import { EntryField } from "./entry-field";
import type { HitColumn } from "./hit-columns";
import styles from "./hits-view.module.scss";
import { typeInto } from "./typed";

export interface HitTableRowProps {
  readonly row: HitRow;
  readonly columns: readonly HitColumn[];
  readonly index: number;
  readonly top: number;
  readonly meter: Meter;
  readonly chosen: boolean;
  /** The column of the cell that has the keyboard, if it is in this row. */
  readonly column: number | undefined;
  /** What typing into that cell began with; empty for what it shows. */
  readonly editing: string | undefined;
  onLeave(): void;
}

/** One hit. */
export const HitTableRow = memo(function HitTableRow(props: HitTableRowProps) {
  const { row, columns, index, top, meter, chosen, column, editing, onLeave } = props;
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-selected={chosen}
      data-row={index}
      className={`${styles.row} ${row.state === "heard" ? "" : styles.silent}`}
      style={{ transform: `translateY(${top}px)` }}
    >
      {columns.map((one, at) => (
        <Cell
          key={one.id}
          of={one}
          at={at}
          row={row}
          meter={meter}
          active={column === at}
          editing={column === at && one.field ? editing : undefined}
          onLeave={onLeave}
        />
      ))}
    </div>
  );
});

interface CellProps extends Pick<HitTableRowProps, "row" | "meter" | "editing" | "onLeave"> {
  readonly of: HitColumn;
  readonly at: number;
  readonly active: boolean;
}

function Cell({ of, at, row, meter, active, editing, onLeave }: CellProps) {
  const { hits } = useWorkspace();
  const cell = useRef<HTMLDivElement>(null);
  const text = of.text(row, meter);
  // The keyboard goes along with the cell, but it is not taken from elsewhere.
  useEffect(() => {
    if (active && editing === undefined && cell.current?.closest("[role=grid]")?.contains(document.activeElement))
      cell.current.focus({ preventScroll: true });
  }, [active, editing]);
  return (
    <div
      ref={cell}
      role="gridcell"
      data-column={at}
      aria-readonly={!of.field}
      tabIndex={active ? 0 : -1}
      className={`${styles[of.id]} ${["pattern", "pass", "state", "lane"].includes(of.id) ? "" : "numerals"} ${editing === undefined ? "" : styles.typing}`}
    >
      {editing === undefined ? (
        text
      ) : (
        <EntryField
          label={`${of.name} of this hit`}
          shown={text}
          begun={editing}
          onType={(typed) => typeInto(hits, of.field!, typed, new Set([row.id]))}
          onLeave={onLeave}
        />
      )}
    </div>
  );
}
