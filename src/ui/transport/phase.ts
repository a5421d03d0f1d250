import type { DialReading } from "@/core/time/dial-reading";
import type { WorkspaceState } from "@/store/state/workspace-state";

/** What is going on, in one word; each has a word, a shape and a colour of its own on the dial. */
export type Phase = "stopped" | "waiting" | "counting" | "playing" | "practice" | "echo" | "recording" | "erasing";

export const PHASE_WORDS: Readonly<Record<Phase, string>> = {
  stopped: "Stopped",
  waiting: "First hit starts",
  counting: "Count-in",
  playing: "Playing",
  practice: "Practice",
  echo: "Echo",
  recording: "Recording",
  erasing: "Erasing",
};

/** @param reading what is audible; between the order to start and the first sound there is none */
export function phaseOf({ transport, erasing, preview }: WorkspaceState, reading: DialReading | undefined): Phase {
  if (erasing.on) return "erasing";
  if (transport.waiting) return "waiting";
  if (!transport.running || !reading) return "stopped";
  if (reading.countingIn) return "counting";
  if (preview) return "echo";
  return { off: "playing" as const, practice: "practice" as const, record: "recording" as const }[transport.writing];
}
