import type { Command } from "@/inputs/commands";
import type { Workspace } from "@/store/workspace/workspace";

export const KEY_GROUPS = [
  "Play and record",
  "Pads and repeat",
  "Patterns and takes",
  "Echoes",
  "Timing",
  "Lanes",
  "Hits",
] as const;

/** A key, or a row of keys, and what it does. The one place that says so: handlers, help, tooltips and README follow it. */
export interface KeyBinding {
  readonly id: string;
  readonly group: (typeof KEY_GROUPS)[number];
  /** Places of keys, as `KeyboardEvent.code` names them; of a row each has its number. */
  readonly codes: readonly string[];
  /** With Shift, or without; either where it is left out. */
  readonly shift?: boolean;
  /** With Control or Command; a letter by what is printed, all else by its place. */
  readonly control?: true;
  /** With Alt, by the place. */
  readonly alt?: true;
  readonly description: string;
  /** Where the keys by themselves would not tell. */
  readonly shown?: string;
  /** A controller can do it, too; such keys may be held. */
  readonly command?: (index: number) => Command;
  /** @returns false where it means nothing now, and another binding of the key may */
  readonly run?: (workspace: Workspace, index: number) => unknown;
  /** Goes on while the key is held. */
  readonly repeats?: true;
}

/** The first of two keys goes back. */
export const by = (index: number) => (index === 0 ? -1 : 1) as 1 | -1;
