"use client";

import Dropdown from "react-bootstrap/Dropdown";
import { COMMAND_KEYS } from "../workspace/command-keys";
import styles from "./top-strip.module.scss";

/** The keys at a glance. */
export function KeysHelp() {
  return (
    <Dropdown align="end">
      <Dropdown.Toggle as="button" type="button" className="btn" aria-label="Keys" bsPrefix="keys">
        ?
      </Dropdown.Toggle>
      <Dropdown.Menu className={styles.keys} role="note">
        <dl>
          {COMMAND_KEYS.map(([key, what]) => (
            <div key={key} className="d-contents">
              <dt className="numerals">{key}</dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </Dropdown.Menu>
    </Dropdown>
  );
}
