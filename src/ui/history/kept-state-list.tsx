"use client";

import { useState } from "react";
import type { KeptStates } from "@/store/document/kept-states";
import type { KeptState } from "@/store/persistence/tables/state-table";
import { X } from "../icons/generated/x";
import { whenOf } from "../common/when-of";
import { useWorkspaceState } from "../workspace/use-workspace";
import styles from "./history.module.scss";

/** Whole states of the beat: kept here under a name, or beside it on the shelf. */
export function KeptStateList({ states }: { readonly states: KeptStates }) {
  const kept = useWorkspaceState((state) => state.keptStates);
  const removed = useWorkspaceState((state) => state.removedState);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <section aria-label="Kept states" className={styles.kept}>
      <KeepForm states={states} readOnly={readOnly} />
      {removed !== undefined && (
        <p className={styles.removed} role="status">
          “{removed}” was deleted.{" "}
          <button type="button" className="btn btn-sm" onClick={() => void states.bringBack()}>
            Bring it back
          </button>
        </p>
      )}
      {kept.length > 0 && (
        <ul className={styles.states}>
          {kept.map((state) => (
            <StateRow key={state.id} states={states} state={state} readOnly={readOnly} />
          ))}
        </ul>
      )}
    </section>
  );
}

interface StatesProps {
  readonly states: KeptStates;
  readonly readOnly: boolean;
}

function KeepForm({ states, readOnly }: StatesProps) {
  const [name, setName] = useState("");
  const keep = () => {
    void states.keep(name);
    setName("");
  };
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <input
        className="form-control form-control-sm"
        aria-label="Name of the state or copy"
        placeholder="The beat as it is now"
        maxLength={120}
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <button
        type="submit"
        className="btn btn-sm"
        disabled={readOnly}
        title="Saves the whole beat under this name, to go back to"
      >
        Save state
      </button>
      <button
        type="button"
        className="btn btn-sm"
        title="Puts a copy on the shelf under this name; this beat stays open"
        onClick={() => void states.saveAs(name)}
      >
        Save a copy
      </button>
    </form>
  );
}

function StateRow({ states, state, readOnly }: StatesProps & { readonly state: KeptState }) {
  const { name, atMs } = state;
  return (
    <li className={styles.state}>
      <span className={styles.name} title={name}>
        {name}
      </span>
      <time className={`numerals ${styles.time}`}>{whenOf(atMs)}</time>
      <button
        type="button"
        className="btn btn-sm"
        aria-label={`Go back to ${name}`}
        title="The beat becomes what it was then; undo takes that back"
        disabled={readOnly}
        onClick={() => void states.goBack(state)}
      >
        Go back
      </button>
      <button
        type="button"
        className="btn btn-sm"
        aria-label={`Delete ${name}`}
        disabled={readOnly}
        onClick={() => void states.remove(state)}
      >
        <X aria-hidden />
      </button>
    </li>
  );
}
