import fc from "fast-check";
import * as edits from "./edit";
import { amend, commit, goToStep, redo, startHistory, undo, type StepName } from "./history";
import { newBeat } from "./new-beat";

const named = (label: string, mergeKey?: string): StepName => ({ label, mergeKey, atMs: 1 });

describe("history", () => {
  test("undo of everything returns the first state, redo of everything the last, exactly", () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 40, max: 200 }), { maxLength: 12 }), (tempi) => {
        const first = newBeat({ id: "b", name: "B", bpm: 39 });
        let history = startHistory(first);
        tempi.forEach(
          (bpm, step) => (history = commit(history, edits.setTempo(history.present, bpm), named("Tempo", `${step}`))),
        );
        const last = history.present;
        for (let step = 0; step <= tempi.length; step++) history = undo(history);
        expect(history.present).toBe(first);
        for (let step = 0; step <= tempi.length; step++) history = redo(history);
        expect(history.present).toBe(last);
      }),
    ));

  test("the last five hundred steps can be taken back, and no more", () => {
    let history = startHistory(0);
    for (let step = 1; step <= 501; step++) history = commit(history, step, named(`${step}`));
    expect(history.past).toHaveLength(500);
    for (let step = 0; step < 600; step++) history = undo(history);
    expect(history.present).toBe(1);
  });
  test("changes with one key are one step, others are not, and a redo does not grow", () => {
    let history = startHistory(0);
    for (const [value, key] of [
      [1, "a"],
      [2, "a"],
      [3, undefined],
      [4, undefined],
      [5, "a"],
    ] as const)
      history = commit(history, value, named("x", key));
    expect(history.past.map(({ document }) => document)).toEqual([0, 2, 3, 4]);
    expect(undo(history).future.map(({ label, document }) => [label, document])).toEqual([["x", 5]]);
    history = commit(redo(undo(history)), 6, named("x", "a"));
    expect(undo(history).present).toBe(5);
    expect(commit(history, 6, named("same"))).toBe(history);
    // A step that grows has the newest label, and takes away what could be done again.
    const grown = commit(commit(undo(history), 7, named("first", "lap")), 8, { ...named("second", "lap"), atMs: 9 });
    expect([grown.past.at(-1), grown.future]).toEqual([
      { document: 5, number: 5, label: "second", mergeKey: "lap", atMs: 9 },
      [],
    ]);
    const empty = startHistory(1);
    expect([undo(empty), redo(empty)]).toEqual([empty, empty]);
  });
});

test("what is amended is in every step on either side that has it, and is no step of its own", () => {
  const withText = (text: string) => (document: string) => document.replace("a", text);
  let history = commit(commit(commit(startHistory("-"), "a", named("A")), "ab", named("B")), "abc", named("C"));
  history = undo(history);
  const amended = amend(history, withText("A"));
  expect(amended.present).toBe("Ab");
  expect(undo(amended).present).toBe("A");
  expect(undo(undo(amended)).present).toBe("-");
  expect(redo(amended).present).toBe("Abc");
  expect(amended.past).toHaveLength(2);
  expect(amend(amended, withText("A"))).toEqual(amended);
});

test("to any step and back, over those of an earlier page too, which are made of what is beside them", () => {
  const restored = (text: string, from: string) => (beside: string) => {
    expect(beside).toBe(from);
    return text;
  };
  const start = {
    past: [
      { ...named("A"), number: 7, document: restored("-", "a") },
      { ...named("B"), number: 9, document: restored("a", "ab") },
    ],
    present: "ab",
    future: [{ ...named("C"), number: 10, document: restored("abc", "ab") }],
  };
  let history = goToStep(commit(goToStep(start, 10), "abcd", named("D")), 0);
  expect([history.present, history.past, history.future.map(({ number }) => number)]).toEqual([
    "-",
    [],
    [7, 9, 10, 11],
  ]);
  history = goToStep(history, 9);
  expect([history.present, history.past.length]).toEqual(["ab", 2]);
  expect(goToStep(history, 99).present).toBe("abcd");
  expect(goToStep(history, 9)).toBe(history);
  // What is amended stops at what another page made.
  const amended = amend(commit(start, "abx", named("X")), (document) => document.replace("x", "y"));
  expect([amended.present, amended.past.at(-1)!.document]).toEqual(["aby", "ab"]);
});
