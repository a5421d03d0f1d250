import type { Beat } from "@/core/beat/beat";
import { startHistory, type History } from "@/core/beat/history";
import type { KeptPass } from "@/core/beat/edits/kept-pass";
import { firstPlace } from "@/core/beat/new-beat";
import { asTicks } from "@/core/time/ticks";
import type { EditorState } from "../persistence/editors";
import type { Repository } from "../persistence/repository";
import type { Settings } from "../settings";
import { NO_MIDI, STOPPED, type WorkspaceState } from "./workspace-state";

/** A beat as it was found on disk. */
export interface OpenedBeat {
  readonly beat: Beat;
  /** Of that beat; without it there is none yet. */
  readonly history?: History<Beat>;
  /** What was recorded in it and is not settled: its page did not live to keep it. */
  readonly recoverable?: readonly KeptPass[];
  readonly editorState?: EditorState;
  readonly settings: Settings;
  readonly repository: Repository;
}

/** What a workspace is before anybody has done anything: stopped, in overdub, with the first pattern of the first part open. */
export function startState(opened: OpenedBeat): WorkspaceState {
  const {
    beat,
    history = startHistory(beat),
    recoverable: lost = [],
    editorState = "editing",
    settings,
    repository,
  } = opened;
  return {
    history,
    patternRef: firstPlace(beat),
    otherPatterns: {},
    queued: {},
    regions: {},
    zoom: undefined,
    folded: false,
    follow: false,
    strip: "late",
    selected: [],
    marked: [],
    timingView: "grooved",
    timingScope: { kind: "next" },
    grooves: [],
    removedGroove: undefined,
    view: "lanes",
    stack: "passes",
    echoes: [],
    joinedEchoes: new Set(),
    openEcho: undefined,
    preview: undefined,
    echoPatience: 1,
    readOnly: editorState !== "editing",
    editorState,
    transport: STOPPED,
    mode: "overdub",
    recordings: {},
    octaves: {},
    pickUp: undefined,
    erasing: { on: false, lanes: {} },
    step: { on: false, at: asTicks(0), insert: "off", atEnd: "wrap", lengthTicks: "line", velocity: "struck" },
    repeat: { rate: undefined, latched: false },
    tapped: undefined,
    calibration: undefined,
    midi: NO_MIDI,
    saveState: "saved",
    memoryReason: repository.memoryReason,
    sound: "loading",
    soundProgress: undefined,
    soundsAwaited: [],
    outputLatencyMs: 0,
    clip: undefined,
    settings,
    keptStates: [],
    removedState: undefined,
    ownKits: [],
    removedKit: undefined,
    sampleBytes: 0,
    lostPasses: lost,
    notice: "",
    noticeCount: 0,
  };
}
