"use client";

import Dropdown from "react-bootstrap/Dropdown";
import { useKeyLabels } from "../common/use-key-labels";
import { KEY_GROUPS, KEYMAP, keysInWords } from "../workspace/keymap";
import styles from "./top-strip.module.scss";

const ALL_CODES = [...new Set(KEYMAP.flatMap(({ codes }) => codes))];

/** The keys at a glance, by what is printed on the player's own. */
export function KeysHelp() {
  const labels = useKeyLabels(ALL_CODES);
  const label = (code: string) => labels[ALL_CODES.indexOf(code)]!;
  return (
    <Dropdown>
      <Dropdown.Toggle as="button" type="button" className="btn" aria-label="Keys" bsPrefix="keys">
        ?
      </Dropdown.Toggle>
      <Dropdown.Menu className={styles.keys} role="note" aria-label="Keys" popperConfig={{ strategy: "fixed" }}>
        {KEY_GROUPS.map((group) => (
          <section key={group}>
            <h2>{group}</h2>
            <dl>
              {KEYMAP.filter((binding) => binding.group === group && binding.says !== "").map((binding) => (
                <div key={binding.id} className="d-contents">
                  <dt className="numerals">{keysInWords(binding, label)}</dt>
                  <dd>{binding.says}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
