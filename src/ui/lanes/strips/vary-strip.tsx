"use client";

import { useDeferredValue, useMemo } from "react";
import type { Pattern } from "@/core/beat/beat";
import { otherOfPair } from "@/core/beat/edits/alternate";
import { FILL_LENGTHS, type FillLength } from "@/core/editing/fill";
import { patternDifference } from "@/core/editing/pattern-difference";
import { useKeyName } from "../../common/use-key-name";
import { useOfBeat, useOpenPart, useOpenPattern, useWorkspace, useWorkspaceState } from "../../workspace/use-workspace";
import { differenceInWords } from "./difference-words";
import styles from "./vary.module.scss";

const FILL_WORDS: Readonly<Record<FillLength, string>> = { beat: "Beat", "half bar": "Half bar", bar: "Bar" };

/** A pattern and its alternate: which one is heard, how they differ, which one stays; and a fill for the end. */
export default function VaryStrip() {
  const part = useOpenPart();
  const pattern = useOpenPattern();
  const other = otherOfPair(part, pattern);
  return (
    <div className={styles.strip} role="group" aria-label="Vary the pattern">
      {other ? <Pair shown={pattern} other={other} /> : <MakeOne />}
      {part.kind === "kit" && <Fills />}
    </div>
  );
}

function MakeOne() {
  const { patterns } = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const { words, shortcuts } = useKeyName("swap");
  return (
    <button
      type="button"
      className="btn btn-sm"
      aria-keyshortcuts={shortcuts}
      title="A copy beside the pattern, to be made different and compared"
      disabled={readOnly}
      onClick={() => patterns.swap()}
    >
      Make an alternate <kbd className={styles.kbd}>{words}</kbd>
    </button>
  );
}

interface PairProps {
  readonly shown: Pattern;
  readonly other: Pattern;
}

function Pair({ shown, other }: PairProps) {
  const { patterns } = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const { words, shortcuts } = useKeyName("swap");
  const onOriginal = shown.alternateOf === undefined;
  const side = (text: string, on: boolean) => (
    <button
      type="button"
      className="btn btn-sm"
      aria-pressed={on}
      aria-keyshortcuts={shortcuts}
      title={on ? "It is heard" : `Hear it from the next hit on (${words})`}
      onClick={() => !on && patterns.swap()}
    >
      {text}
    </button>
  );
  return (
    <>
      <span className={styles.sides} role="group" aria-label="Which one is heard">
        {side("Original", onOriginal)}
        {side("Alternate", !onOriginal)}
      </span>
      <kbd className={styles.kbd}>{words}</kbd>
      <Difference original={onOriginal ? shown : other} alternate={onOriginal ? other : shown} />
      <button
        type="button"
        className="btn btn-sm"
        title={`${onOriginal ? "The alternate" : "The original"} goes; undo brings it back`}
        disabled={readOnly}
        onClick={() => patterns.keepThis()}
      >
        Use this one
      </button>
    </>
  );
}

interface DifferenceProps {
  readonly original: Pattern;
  readonly alternate: Pattern;
}

/** While one of them is recorded it is looked at when there is time. */
function Difference({ original, alternate }: DifferenceProps) {
  const meter = useOfBeat((beat) => beat.meter);
  const [from, to] = [useDeferredValue(original), useDeferredValue(alternate)];
  const words = useMemo(() => differenceInWords(patternDifference(from, to, meter)), [from, to, meter]);
  return (
    <span className={styles.words} role="status" title={`The alternate beside the original: ${words}`}>
      {words}
    </span>
  );
}

function Fills() {
  const { patterns } = useWorkspace();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <span className={styles.fills} role="group" aria-label="Fill the end of the loop">
      <span className={styles.label}>Fill</span>
      {FILL_LENGTHS.map((length) => (
        <button
          key={length}
          type="button"
          className="btn btn-sm"
          aria-label={`Fill the last ${length}`}
          title={`Fills the last ${length} of the alternate; again: another fill`}
          disabled={readOnly}
          onClick={() => void patterns.fill(length)}
        >
          {FILL_WORDS[length]}
        </button>
      ))}
    </span>
  );
}
