"use client";

import { useRef, type FocusEvent, type KeyboardEvent, type MouseEvent } from "react";
import type { HitRow } from "@/core/editing/hit-rows";
import { useWorkspace } from "../workspace/use-workspace";

export interface GridCell {
  readonly row: number;
  readonly column: number;
}

export interface GridKeys {
  readonly rows: readonly HitRow[];
  readonly columns: number;
  readonly cell: GridCell;
  readonly editing: boolean;
  onCell(cell: GridCell): void;
  /** @param begun what was typed already */
  onEdit(begun: string | undefined): void;
}

const PAGE_ROWS = 15;

/**
 * A grid by keyboard (ARIA Authoring Practices, the grid pattern, from memory): arrows, Home and End walk, with Shift they
 * choose on; Enter types into a cell, and so does a figure; Tab takes it and goes on; Space chooses a row.
 */
export function useGridKeys({ rows, columns, cell, editing, onCell, onEdit }: GridKeys) {
  const workspace = useWorkspace();
  const { lanes } = workspace;
  const anchor = useRef(0);
  const chooseTo = (row: number) => {
    const [from, to] = [Math.min(anchor.current, row), Math.max(anchor.current, row)];
    const between = rows.slice(from, to + 1).map(({ id }) => id);
    lanes.select(row < anchor.current ? between.reverse() : between);
  };
  const walk = (to: GridCell, choosing: boolean) => {
    const row = Math.max(0, Math.min(rows.length - 1, to.row));
    const column = Math.max(0, Math.min(columns - 1, to.column));
    onCell({ row, column });
    if (choosing) chooseTo(row);
    else if (row !== cell.row && rows[row]) {
      anchor.current = row;
      lanes.select([rows[row].id]);
    }
  };
  const toggle = (row: number) => {
    const id = rows[row]?.id;
    if (id === undefined) return;
    anchor.current = row;
    const { selected } = workspace.state;
    lanes.select(selected.includes(id) ? selected.filter((one) => one !== id) : [...selected, id]);
  };
  const press = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (!(event.target as Element).closest("[role=gridcell]")) return;
    const to = target(event.key, cell, event.shiftKey, { rows: rows.length, columns });
    if (editing) {
      // What was typed is taken when the field is left.
      if (event.key === "Tab" && to) {
        event.preventDefault();
        onEdit(undefined);
        walk(to, false);
      }
      if (event.key === "Enter" || event.key === "Escape") event.stopPropagation();
      return;
    }
    if (to && event.key !== "Tab") walk(to, event.shiftKey && event.key !== "Home" && event.key !== "End");
    else if (event.key === " ") toggle(cell.row);
    else if (event.key === "Enter" || event.key === "F2") onEdit("");
    else if (/^[\d+]$/.test(event.key) || event.key === "-") onEdit(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const click = (event: MouseEvent) => {
    const at = cellAt(event.target);
    if (!at) return;
    const { row } = at;
    onCell(at);
    if (event.shiftKey) chooseTo(row);
    else if (event.ctrlKey || event.metaKey) toggle(row);
    else {
      anchor.current = row;
      lanes.select([rows[row]!.id]);
    }
  };
  const doubleClick = (event: MouseEvent) => {
    if ((event.target as Element).closest("[data-column]")) onEdit("");
  };
  const focus = (event: FocusEvent) => {
    const at = cellAt(event.target);
    if (at && (at.row !== cell.row || at.column !== cell.column)) onCell(at);
  };
  return { onKeyDown: press, onClick: click, onDoubleClick: doubleClick, onFocus: focus };
}

/** The cell that an element is in. */
function cellAt(target: EventTarget): GridCell | undefined {
  const found = (target as Element).closest<HTMLElement>("[data-column]");
  const row = found?.closest<HTMLElement>("[data-row]")?.dataset.row;
  return row === undefined ? undefined : { row: Number(row), column: Number(found!.dataset.column) };
}

/** Where a key leads. */
function target(
  key: string,
  { row, column }: GridCell,
  shift: boolean,
  { rows, columns }: { readonly rows: number; readonly columns: number },
): GridCell | undefined {
  switch (key) {
    case "ArrowDown":
      return { row: row + 1, column };
    case "ArrowUp":
      return { row: row - 1, column };
    case "PageDown":
      return { row: row + PAGE_ROWS, column };
    case "PageUp":
      return { row: row - PAGE_ROWS, column };
    case "ArrowRight":
      return { row, column: column + 1 };
    case "ArrowLeft":
      return { row, column: column - 1 };
    case "Home":
      return { row: shift ? 0 : row, column: 0 };
    case "End":
      return { row: shift ? rows - 1 : row, column: columns - 1 };
    case "Tab":
      return { row, column: column + (shift ? -1 : 1) };
    default:
      return undefined;
  }
}
