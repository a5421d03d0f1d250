"use client";

import { useKeyLabels } from "../common/use-key-labels";
import { KEY_GROUPS } from "../workspace/key-binding";
import { KEYMAP, keysInWords } from "../workspace/keymap";

const ALL_CODES = [...new Set(KEYMAP.flatMap(({ codes }) => codes))];

/** The keys at a glance, by what is printed on the player's own. */
export default function KeysList() {
  const labels = useKeyLabels(ALL_CODES);
  const label = (code: string) => labels[ALL_CODES.indexOf(code)]!;
  return KEY_GROUPS.map((group) => (
    <section key={group}>
      <h2>{group}</h2>
      <dl>
        {KEYMAP.filter((binding) => binding.group === group && binding.description !== "").map((binding) => (
          <div key={binding.id} className="d-contents">
            <dt className="numerals">{keysInWords(binding, label)}</dt>
            <dd>{binding.description}</dd>
          </div>
        ))}
      </dl>
    </section>
  ));
}
