"use client";

import { ArrowCounterclockwise } from "../icons/generated/arrow-counterclockwise";
import { ChevronLeft } from "../icons/generated/chevron-left";
import { ChevronRight } from "../icons/generated/chevron-right";
import { Trash3 } from "../icons/generated/trash3";
import { countOf } from "@/store/editing/hit-editor";
import { useKeyName } from "../common/use-key-name";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { BarMenu } from "./bar-menu";
import styles from "./hits.module.scss";
import { useChosenRows } from "./use-chosen-rows";
import { lazyView } from "../common/lazy-view";

const ChosenEntries = lazyView(() => import("./chosen-entries"));
const SelectItems = lazyView(() => import("./select-items"));
const ChangeItems = lazyView(() => import("./change-items"));
const StepFields = lazyView(() => import("./step-fields"));

/** What is chosen in the lanes and what can be made of it; in step input, where the next step goes. One line at one place. */
export function HitBar() {
  const stepping = useWorkspaceState(({ step }) => step.on);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const { step } = useWorkspace();
  const { words, shortcuts } = useKeyName("stepInput");
  return (
    <div className={styles.bar} role="group" aria-label="Chosen hits and step input">
      {stepping ? <StepFields /> : <ChosenFields />}
      <button
        type="button"
        className={`btn btn-sm ${styles.stepToggle}`}
        aria-pressed={stepping}
        aria-keyshortcuts={shortcuts}
        title={`Each stroke goes to the cursor, which walks on (${words})`}
        disabled={readOnly}
        onClick={() => step.toggle()}
      >
        Step input
      </button>
    </div>
  );
}

function ChosenFields() {
  const rows = useChosenRows();
  const { hits } = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const none = readOnly || rows.length === 0;
  return (
    <>
      <BarMenu name="Select">{(done) => <SelectItems onDone={done} />}</BarMenu>
      <span className={styles.count} role="status">
        {rows.length === 0 ? "None chosen" : countOf(rows.length)}
      </span>
      <ChosenEntries rows={rows} disabled={none} />
      <span className={styles.buttons}>
        <BarButton id="moveByLines" label="A line earlier" disabled={none} onClick={() => hits.moveByLines(-1)}>
          <ChevronLeft aria-hidden />
        </BarButton>
        <BarButton id="moveByLines" label="A line later" disabled={none} onClick={() => hits.moveByLines(1)}>
          <ChevronRight aria-hidden />
        </BarButton>
        <BarButton id="returnHits" label="Return to played" disabled={none} onClick={() => hits.return()}>
          <ArrowCounterclockwise aria-hidden />
        </BarButton>
        <BarButton id="remove" label="Delete hits" disabled={none} onClick={() => hits.remove()}>
          <Trash3 aria-hidden />
        </BarButton>
      </span>
      <BarMenu name="Change" disabled={readOnly}>
        {() => <ChangeItems none={none} />}
      </BarMenu>
    </>
  );
}

interface BarButtonProps {
  /** Of its key in the keymap. */
  readonly id: string;
  readonly label: string;
  readonly disabled: boolean;
  readonly children: React.ReactNode;
  onClick(): void;
}

function BarButton({ id, label, disabled, children, onClick }: BarButtonProps) {
  const { words, shortcuts } = useKeyName(id);
  return (
    <button
      type="button"
      className="btn btn-sm"
      aria-label={label}
      aria-keyshortcuts={shortcuts}
      title={`${label} (${words})`}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
