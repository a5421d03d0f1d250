"use client";

import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import styles from "./pattern-bar.module.scss";
import { lazyView } from "../common/lazy-view";

const PatternItems = lazyView(() => import("./pattern-items"));

/** What is done to the open pattern, and when patterns change; fetched when it is looked at first. */
export function PatternMenu() {
  const [open, setOpen] = useState(false);
  return (
    <Dropdown align="start" show={open} onToggle={setOpen}>
      <Dropdown.Toggle
        as="button"
        type="button"
        className={`btn btn-sm ${styles.more}`}
        bsPrefix="pattern"
        aria-label="Pattern actions"
      >
        …
      </Dropdown.Toggle>
      <Dropdown.Menu>{open && <PatternItems />}</Dropdown.Menu>
    </Dropdown>
  );
}
