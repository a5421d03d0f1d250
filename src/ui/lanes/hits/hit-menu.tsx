"use client";

import { useEffect, useRef, type KeyboardEvent } from "react";
import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { editLines, lineAway } from "@/core/editing/edit-lines";
import { placeText } from "@/core/editing/hit-rows";
import { countOf } from "@/store/editing/hit-editor";
import { MenuItem } from "../../hits/menu-item";
import { useKeyName } from "../../common/use-key-name";
import { useBeat, useOpenPattern, useWorkspace, useWorkspaceState } from "../../workspace/use-workspace";
import styles from "../picture/lanes.module.scss";

export interface HitMenuProps {
  readonly x: number;
  readonly y: number;
  onDone(): void;
}

/** What is done most with a hit, at the hit: the line before, the line after, one key each. */
export default function HitMenu({ x, y, onDone }: HitMenuProps) {
  const { hits, lanes } = useWorkspace();
  const beat = useBeat();
  const pattern = useOpenPattern();
  const count = useWorkspaceState(({ selected }) => selected.length);
  const first = useRef<HTMLDivElement>(null);
  const remove = useKeyName("remove").words;
  const giveBack = useKeyName("returnHits").words;
  useEffect(() => first.current?.querySelector("button")?.focus({ preventScroll: true }), []);
  const at = lanes.focused?.straightTicks;
  const lines = editLines(pattern, beat.meter, beat.inputQuantize);
  const place = (by: 1 | -1) => (at === undefined ? "" : placeText(lineAway(lines, at, by), beat.meter));
  const press = (event: KeyboardEvent) => {
    if (event.key !== "ArrowLeft" && event.key !== "ArrowRight") return;
    event.preventDefault();
    event.stopPropagation();
    hits.moveByLines(event.key === "ArrowLeft" ? -1 : 1);
    onDone();
  };
  return (
    <Dropdown show onToggle={onDone} className={styles.menuAt} style={{ left: x, top: y }}>
      <Dropdown.Toggle as="span" bsPrefix="at-hit" tabIndex={-1} aria-hidden />
      {createPortal(
        <Dropdown.Menu onKeyDown={press} aria-label={countOf(count)}>
          <div ref={first}>
            <MenuItem keys="←" onClick={() => (hits.moveByLines(-1), onDone())}>
              Line before, {place(-1)}
            </MenuItem>
          </div>
          <MenuItem keys="→" onClick={() => (hits.moveByLines(1), onDone())}>
            Line after, {place(1)}
          </MenuItem>
          <MenuItem onClick={() => (hits.shiftVelocity(12), onDone())}>Louder by 12</MenuItem>
          <MenuItem onClick={() => (hits.shiftVelocity(-12), onDone())}>Softer by 12</MenuItem>
          <MenuItem keys={giveBack} onClick={() => (hits.return(), onDone())}>
            Return to played
          </MenuItem>
          <MenuItem keys={remove} onClick={() => (hits.remove(), onDone())}>
            Delete {countOf(count)}
          </MenuItem>
        </Dropdown.Menu>,
        document.body,
      )}
    </Dropdown>
  );
}
