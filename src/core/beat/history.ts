/** Undo and redo over immutable documents: a step is a reference, and coming back is exact. */
export interface History<T> {
  readonly past: readonly HistoryStep<T>[];
  readonly present: T;
  readonly future: readonly HistoryStep<T>[];
}

/** A change's label. */
export interface StepName {
  readonly label: string;
  /** Changes that carry the same key one after another are one step, such as the hits of one pass. */
  readonly mergeKey?: string | undefined;
  /** When it was made, or grew last; milliseconds since 1970. */
  readonly atMs: number;
}

/** A document as it was, with the name of the change that led away from it (past) or to it (future). */
export interface HistoryStep<T> extends StepName {
  /** Ascending from the oldest to the newest. */
  readonly number: number;
  /** The document; of a step that an earlier page made, how it is made of the one that is next to it. */
  readonly document: T | Restored<T>;
}

/** @throws CoreError where what was kept of the step can't be read */
export type Restored<T> = (beside: T) => T;

/** Steps kept; the documents share their unchanged parts, so a deep history is cheap. */
const MAX_STEPS = 500;

/** @example startHistory("empty").present // "empty" */
export function startHistory<T>(document: T): History<T> {
  return { past: [], present: document, future: [] };
}

/**
 * Makes `document` the present. The same document is no change and no step; a step that grows takes the newest name.
 * @example commit(startHistory("empty"), "one hit", { label: "1 hit", atMs: 0 }).past[0].label // "1 hit"
 */
export function commit<T>(history: History<T>, document: T, name: StepName): History<T> {
  if (document === history.present) return history;
  const last = history.past.at(-1);
  if (last && name.mergeKey !== undefined && last.mergeKey === name.mergeKey)
    return { past: history.past.with(-1, { ...last, ...name }), present: document, future: [] };
  const number = (last?.number ?? 0) + 1;
  const past = [...history.past, { ...name, number, document: history.present }].slice(-MAX_STEPS);
  return { past, present: document, future: [] };
}

/**
 * Changes the present, and the steps on either side for as long as they have what is changed: it is no step of its own, and
 * taking back something else does not take it back. Steps of earlier pages don't have what this one makes.
 * @param edit gives the same document back where there is nothing to change
 * @example amend(startHistory("empty"), (text) => text.toUpperCase()).present // "EMPTY"
 */
export function amend<T>({ past, present, future }: History<T>, edit: (document: T) => T): History<T> {
  const next = edit(present);
  if (next === present) return { past, present, future };
  return { past: amended(past.toReversed(), edit).toReversed(), present: next, future: amended(future, edit) };
}

function amended<T>(steps: readonly HistoryStep<T>[], edit: (document: T) => T): readonly HistoryStep<T>[] {
  const changed = [...steps];
  for (const [index, step] of steps.entries()) {
    if (isRestored(step.document)) break;
    const document = edit(step.document);
    if (document === step.document) break;
    changed[index] = { ...step, document };
  }
  return changed;
}

/**
 * @returns the history one step back, the same one when there is none
 * @throws CoreError of a step of an earlier page
 * @example undo(commit(startHistory("empty"), "one hit", { label: "1 hit", atMs: 0 })).present // "empty"
 */
export function undo<T>({ past, present, future }: History<T>): History<T> {
  const step = past.at(-1);
  if (!step) return { past, present, future };
  return {
    past: past.slice(0, -1),
    present: reached(step, present),
    // Without its key, so that what is recorded after a redo starts a step of its own.
    future: [{ ...step, document: present, mergeKey: undefined }, ...future],
  };
}

/**
 * @returns the history one step forward, the same one when there is none
 * @throws CoreError of a step of an earlier page
 * @example redo(undo(commit(startHistory("empty"), "one hit", { label: "1 hit", atMs: 0 }))).present // "one hit"
 */
export function redo<T>({ past, present, future }: History<T>): History<T> {
  const [step, ...rest] = future;
  if (!step) return { past, present, future };
  return {
    past: [...past, { ...step, document: present, mergeKey: undefined }],
    present: reached(step, present),
    future: rest,
  };
}

/**
 * Goes back or forward until a step is the last that was made.
 * @param number of the step; 0 for the state before the oldest one
 * @throws CoreError of a step of an earlier page
 */
export function goToStep<T>(history: History<T>, number: number): History<T> {
  let now = history;
  while (now.past.length > 0 && now.past.at(-1)!.number > number) now = undo(now);
  while (now.future.length > 0 && now.future[0]!.number <= number) now = redo(now);
  return now;
}

function reached<T>({ document }: HistoryStep<T>, beside: T): T {
  return isRestored(document) ? document(beside) : document;
}

function isRestored<T>(document: T | Restored<T>): document is Restored<T> {
  return typeof document === "function";
}
