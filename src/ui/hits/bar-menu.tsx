"use client";

import { useState } from "react";
import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import styles from "./hits.module.scss";

export interface BarMenuProps {
  readonly name: string;
  readonly disabled?: boolean;
  /** What it lists, built when it is looked at. @param done closes it */
  children(done: () => void): React.ReactNode;
}

/** A menu of the bar of hits; what is in it is fetched when it is opened first. */
export function BarMenu({ name, disabled, children }: BarMenuProps) {
  const [open, setOpen] = useState(false);
  return (
    <Dropdown show={open} onToggle={setOpen} drop="up">
      <Dropdown.Toggle as="button" type="button" className="btn btn-sm" bsPrefix="bar" disabled={disabled}>
        {name}
      </Dropdown.Toggle>
      {createPortal(
        <Dropdown.Menu className={styles.menu!}>{open && children(() => setOpen(false))}</Dropdown.Menu>,
        document.body,
      )}
    </Dropdown>
  );
}
