"use client";

import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import styles from "./top-strip.module.scss";
import { lazyView } from "../common/lazy-view";

const KeysList = lazyView(() => import("./keys-list"));

/** The keys at a glance. */
export function KeysHelp() {
  const [open, setOpen] = useState(false);
  return (
    <Dropdown show={open} onToggle={setOpen}>
      <Dropdown.Toggle as="button" type="button" className="btn" aria-label="Keys" bsPrefix="keys">
        ?
      </Dropdown.Toggle>
      <Dropdown.Menu className={styles.keys} role="note" aria-label="Keys" popperConfig={{ strategy: "fixed" }}>
        {open && <KeysList />}
      </Dropdown.Menu>
    </Dropdown>
  );
}
