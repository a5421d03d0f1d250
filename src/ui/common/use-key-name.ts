"use client";

import { bindingOf, keyShortcuts, keysInWords } from "../workspace/keymap";
import { useKeyLabels } from "./use-key-labels";

export interface KeyName {
  /** Such as "Shift ↑ ↓", by what is printed on the player's keys. */
  readonly words: string;
  /** For `aria-keyshortcuts`. */
  readonly shortcuts: string;
}

/** How the key for something is called. @param id in the keymap */
export function useKeyName(id: string): KeyName {
  const binding = bindingOf(id);
  const labels = useKeyLabels(binding.codes);
  const label = (code: string) => labels[binding.codes.indexOf(code)]!;
  return { words: keysInWords(binding, label), shortcuts: keyShortcuts(binding, label) };
}
