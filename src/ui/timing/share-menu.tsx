"use client";

import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { PieChart } from "../icons/generated/pie-chart";
import { NumberField } from "../common/fields/number-field";
import { useOfPattern, useUsedLanes, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";

/** How much of swing and groove each pad takes: hats swing, the kick does not. */
export function ShareMenu() {
  const workspace = useWorkspace();
  const pads = useUsedLanes();
  const padAmounts = useOfPattern(({ padAmounts }) => padAmounts) ?? {};
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const set = (lane: number, amount: number, gesture: string) => {
    const shares = ({ [lane]: _, ...others }: Readonly<Record<number, number>> = {}) => {
      const next = amount === 1 ? others : { ...others, [lane]: amount };
      return Object.keys(next).length === 0 ? undefined : next;
    };
    workspace.timing.setFeel((now) => ({ padAmounts: shares(now.padAmounts) }), "Share of groove", gesture);
  };
  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle
        as="button"
        type="button"
        className="btn btn-sm"
        bsPrefix="share"
        aria-label="Share of each pad in swing and groove"
        title="Share of each pad in swing and groove"
        aria-pressed={Object.keys(padAmounts).length > 0}
        disabled={readOnly}
      >
        <PieChart aria-hidden />
      </Dropdown.Toggle>
      {createPortal(
        <Dropdown.Menu className={styles.sheet}>
          <p className={styles.says}>Share of each pad in swing and groove, %</p>
          <div className={styles.shares}>
            {pads.map(({ id, name }) => (
              <div key={id} className={styles.share}>
                <span aria-hidden>{name}</span>
                <NumberField
                  inline
                  label={`Share of ${name}`}
                  value={Math.round((padAmounts[id] ?? 1) * 100)}
                  min={0}
                  max={100}
                  step={10}
                  standard={100}
                  onChange={(percent, gesture) => set(id, percent / 100, gesture)}
                />
              </div>
            ))}
          </div>
        </Dropdown.Menu>,
        document.body,
      )}
    </Dropdown>
  );
}
