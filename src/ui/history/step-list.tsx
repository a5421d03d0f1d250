"use client";

import { memo, useEffect, useRef, type KeyboardEvent } from "react";
import type { Beat } from "@/core/beat/beat";
import type { HistoryStep } from "@/core/beat/history";
import { KEPT_STEPS } from "@/store/persistence/rows/step-log";
import { whenOf } from "../common/when-of";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./history.module.scss";

/** Every step with its time, the newest on top; a click goes there, and what was undone for it can be done again. */
export function StepList() {
  const past = useWorkspaceState(({ history }) => history.past);
  const future = useWorkspaceState(({ history }) => history.future);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const now = past.at(-1)?.number ?? 0;
  const steps = [...past.slice(-KEPT_STEPS), ...future.slice(0, KEPT_STEPS)].toReversed();
  return (
    <section aria-label="History">
      <p className={styles.says}>
        {steps.length === 0
          ? "Nothing was changed yet."
          : `The last ${KEPT_STEPS} steps are there after a reload, too. A click goes there.`}
      </p>
      <ol className={styles.steps} reversed onKeyDown={walk}>
        {steps.map((step) => (
          <StepRow key={step.number} step={step} at={whereOf(step.number, now)} readOnly={readOnly} />
        ))}
        {steps.length > 0 && <StartRow now={now} oldest={steps.at(-1)!.number} readOnly={readOnly} />}
      </ol>
    </section>
  );
}

/** The step that was made last, one before it, or one that was undone. */
type Where = "now" | "before" | "undone";

function whereOf(number: number, now: number): Where {
  if (number === now) return "now";
  return number < now ? "before" : "undone";
}

interface StepRowProps {
  readonly step: HistoryStep<Beat>;
  readonly at: Where;
  readonly readOnly: boolean;
}

const StepRow = memo(function StepRow({ step: { number, label, atMs }, at, readOnly }: StepRowProps) {
  return (
    <GoTo number={number} at={at} readOnly={readOnly}>
      <span className={styles.name}>
        {label}
        {at === "undone" && <span className="visually-hidden">, undone</span>}
      </span>
      <time className={`numerals ${styles.time}`}>{whenOf(atMs)}</time>
    </GoTo>
  );
});

/** Before all that. */
function StartRow({
  now,
  oldest,
  readOnly,
}: {
  readonly now: number;
  readonly oldest: number;
  readonly readOnly: boolean;
}) {
  return (
    <GoTo number={oldest - 1} at={now < oldest ? "now" : "before"} readOnly={readOnly}>
      <span className={styles.name}>Before all that</span>
    </GoTo>
  );
}

interface GoToProps {
  readonly number: number;
  readonly at: Where;
  readonly readOnly: boolean;
  readonly children: React.ReactNode;
}

function GoTo({ number, at, readOnly, children }: GoToProps) {
  const { document } = useWorkspace();
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (at === "now") row.current?.scrollIntoView({ block: "nearest" });
  }, [at]);
  return (
    <li ref={row} className={styles.row}>
      <button
        type="button"
        className={`${styles.step} ${styles[at]}`}
        aria-current={at === "now" ? "step" : undefined}
        tabIndex={at === "now" ? 0 : -1}
        disabled={readOnly}
        onClick={() => document.goToStep(number)}
      >
        {children}
      </button>
    </li>
  );
}

/** Arrow keys walk along the steps, Enter goes there. */
function walk(event: KeyboardEvent<HTMLOListElement>): void {
  if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
  // Without this they would also step through grooves.
  event.preventDefault();
  event.stopPropagation();
  const buttons = [...event.currentTarget.querySelectorAll("button")];
  const at = buttons.indexOf(event.target as HTMLButtonElement);
  buttons[at + (event.key === "ArrowDown" ? 1 : -1)]?.focus();
}
