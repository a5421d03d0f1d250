/** Undo and redo over immutable documents: a step is a reference, and coming back is exact. */
export interface History<T> {
  readonly past: readonly HistoryStep<T>[];
  readonly present: T;
  readonly future: readonly HistoryStep<T>[];
}

/** A document as it was, with the name of the change that led away from it (past) or to it (future). */
export interface HistoryStep<T> {
  readonly document: T;
  readonly label: string;
  /** Changes that carry the same key one after another are one step, such as the hits of one pass. */
  readonly mergeKey: string | undefined;
}

/** Steps kept; the documents share their unchanged parts, so a deep history is cheap. */
export const MAX_STEPS = 500;

export function startHistory<T>(document: T): History<T> {
  return { past: [], present: document, future: [] };
}

/** Makes `document` the present. The same document is no change and no step; a step that grows takes the newest label. */
export function commit<T>(history: History<T>, document: T, label: string, mergeKey?: string): History<T> {
  if (document === history.present) return history;
  const last = history.past.at(-1);
  if (last && mergeKey !== undefined && last.mergeKey === mergeKey) {
    const past = last.label === label ? history.past : history.past.with(-1, { ...last, label });
    return { past, present: document, future: [] };
  }
  const past = [...history.past, { document: history.present, label, mergeKey }].slice(-MAX_STEPS);
  return { past, present: document, future: [] };
}

/**
 * Changes the present, and the steps on either side for as long as they have what is changed: it is no step of its own, and
 * taking back something else does not take it back.
 * @param edit gives the same document back where there is nothing to change
 */
export function amend<T>({ past, present, future }: History<T>, edit: (document: T) => T): History<T> {
  const next = edit(present);
  if (next === present) return { past, present, future };
  return { past: amended(past.toReversed(), edit).toReversed(), present: next, future: amended(future, edit) };
}

function amended<T>(steps: readonly HistoryStep<T>[], edit: (document: T) => T): readonly HistoryStep<T>[] {
  const changed = [...steps];
  for (const [index, step] of steps.entries()) {
    const document = edit(step.document);
    if (document === step.document) break;
    changed[index] = { ...step, document };
  }
  return changed;
}

/** @returns the history one step back, the same one when there is none */
export function undo<T>({ past, present, future }: History<T>): History<T> {
  const step = past.at(-1);
  if (!step) return { past, present, future };
  return {
    past: past.slice(0, -1),
    present: step.document,
    // Without its key, so that what is recorded after a redo starts a step of its own.
    future: [{ document: present, label: step.label, mergeKey: undefined }, ...future],
  };
}

/** @returns the history one step forward, the same one when there is none */
export function redo<T>({ past, present, future }: History<T>): History<T> {
  const [step, ...rest] = future;
  if (!step) return { past, present, future };
  return {
    past: [...past, { document: present, label: step.label, mergeKey: undefined }],
    present: step.document,
    future: rest,
  };
}
