import type { Beat, PatternRef } from "@/core/beat/beat";
import type { OwnKit } from "@/core/beat/edits/own-kit";
import { wholeSpan } from "@/core/beat/beat";
import type { Groove } from "@/core/beat/feel";
import { findPart, findPattern, type NewHit } from "@/core/beat/edit";
import type { KeptPass } from "@/core/beat/edits/kept-pass";
import type { QuantizeScope } from "@/core/beat/edits/quantize-edit";
import type { History } from "@/core/beat/history";
import type { StepSettings } from "@/core/editing/step-input";
import type { Echo } from "@/core/recover/echo";
import type { BroughtBack } from "@/core/recover/echo-pass";
import type { RecordMode, Recording } from "@/core/record/record-stroke";
import type { LoopSpan } from "@/core/time/loop-span";
import type { Ticks } from "@/core/time/ticks";
import type { TappedTempo } from "@/core/time/tap-tempo";
import type { TimingView } from "@/core/timing/resolved-hit";
import type { TapOffset } from "@/core/timing/tap-offset";
import type { SoundSetId } from "@/core/sound/kits/sound-sets";
import type { QueuedChange, SwitchMoment } from "@/core/sound/player/track";
import type { RepeatRate } from "@/inputs/commands";
import type { DeviceProfile, Target } from "@/inputs/device-profile";
import type { SeenMessage } from "@/inputs/midi-device";
import type { MidiAccess } from "@/inputs/web-midi";
import type { OpenEcho } from "./open-echo";
import type { EditorState } from "../persistence/editors";
import type { MemoryReason } from "../persistence/tables/store-access";
import type { KeptState } from "../persistence/tables/state-table";
import type { Settings } from "../settings";

/** How many of the sounds that are needed first are made. */
export interface SoundProgress {
  readonly sets: readonly SoundSetId[];
  readonly made: number;
  readonly of: number;
}

/** `waiting`: the browser wants a gesture first. `failed`: no sound, all else works. */
export type SoundState = "loading" | "waiting" | "ready" | "failed";

/** What is on disk: all, not yet all, or nothing since the browser's store gave way. */
export type SaveState = "saved" | "saving" | "memory";

/** What becomes of strokes: nothing, hits, or nothing while record stays ready. */
export type Writing = "off" | "record" | "practice";

export interface Transport {
  readonly running: boolean;
  /** Stopped, and the next stroke will be the downbeat. */
  readonly waiting: boolean;
  readonly writing: Writing;
}

/** A pattern that was called up and waits for its moment. */
export interface QueuedPattern {
  readonly patternRef: PatternRef;
  readonly moment: SwitchMoment;
  readonly segment: number;
  /** When, in the positions of the run that is playing; undefined until the audio thread has said so. */
  readonly at?: Pick<QueuedChange, "atTicks" | "inSegment">;
}

/** What was played in the count-in and is too early for the first downbeat: it leads into the loop, if the player says so. */
export interface PickUp {
  readonly patternRef: PatternRef;
  readonly hits: readonly NewHit[];
  /** The pass that it led into, from its first hit on. */
  readonly passId?: number;
}

/** Erase is held, or latched, with these lanes, by part. */
export interface Erasing {
  readonly on: boolean;
  readonly lanes: Readonly<Record<number, readonly number[]>>;
}

/** Writing step by step: strokes go to a line of the open pattern, and on to the next one. */
export interface StepCursor extends StepSettings {
  readonly on: boolean;
  /** 0 <= it <= the loop's length, which is behind its last line. */
  readonly at: Ticks;
  /** As struck, or always the same, 1..127. */
  readonly velocity: "struck" | number;
}

export interface NoteRepeat {
  readonly rate: RepeatRate | undefined;
  readonly latched: boolean;
}

/** Taps along to a click, to find how late a device arrives. */
export interface Calibration {
  /** The first device that tapped; taps of others do not count. */
  readonly device: string | undefined;
  /** Late is positive. */
  readonly offsetsMs: readonly number[];
  readonly finished: boolean;
  readonly result: TapOffset | undefined;
}

export interface MidiState {
  readonly access: MidiAccess;
  /** Names of what is plugged in, the stand-in drummer included. */
  readonly devices: readonly string[];
  readonly profiles: Readonly<Record<string, DeviceProfile>>;
  /** Newest first. */
  readonly seen: readonly SeenMessage[];
  /** The next note or controller will do this. */
  readonly learning: Target | undefined;
  /** Targets to learn after that, each from the next hit. */
  readonly learnNext: readonly Target[];
  /** A device that went away while it was in use, until it comes back or the player has read it. */
  readonly recoverable: string | undefined;
}

/** What takes the middle of the screen; the loop runs on behind it. */
export const VIEWS = ["lanes", "hits", "mix", "sounds", "report", "inputs"] as const;
export type View = (typeof VIEWS)[number];

/** What is under the lanes: how early and late lines were played, how hard hits are, or what varies the pattern. */
export type Strip = "late" | "velocity" | "vary";

/** What is in the pattern, what is only remembered, and what was done. */
export type Stack = "passes" | "echoes" | "history";

/** The beat as it would be with an echo in it. */
export interface Preview extends BroughtBack {
  /** The loop was started for it, and ends with it. */
  readonly startedPlaying: boolean;
}

/** What the timing panel and the arrow keys change. */
export type TimingScope =
  | { readonly kind: "next" }
  | { readonly kind: "selected" }
  | Exclude<QuantizeScope, { kind: "hits" }>;

/** It was too loud, by so much; then that lane was the loudest, and playback was there. */
export interface Clip {
  readonly overDb: number;
  readonly partId: number | undefined;
  readonly lane: number | undefined;
  readonly at: string | undefined;
}

/** Everything the workspace shows. Plain data, replaced and never changed. */
export interface WorkspaceState {
  readonly history: History<Beat>;
  /** What is looked at and written into: the open part, in the pattern that it plays. */
  readonly patternRef: PatternRef;
  /** By part, the pattern that it plays while another part is open. */
  readonly otherPatterns: Readonly<Record<number, number>>;
  /** By part. */
  readonly queued: Readonly<Record<number, QueuedPattern>>;
  /** The stretch that goes round, by pattern; the whole pattern where there is none. */
  readonly regions: Readonly<Record<number, LoopSpan>>;
  /** The part of the open pattern that the lanes show; all of it where there is none. */
  readonly zoom: LoopSpan | undefined;
  /** The lanes show only pads and notes that hits lie on. */
  readonly folded: boolean;
  readonly strip: Strip;
  /** The lanes turn the page when playback leaves what they show. */
  readonly follow: boolean;
  /** Hits that an undo or redo brought, or changed, until the next edit. */
  readonly marked: readonly number[];
  /** Hit ids; the last one is the one that has the focus. */
  readonly selected: readonly number[];
  readonly timingView: TimingView;
  readonly timingScope: TimingScope;
  /** The player's own. */
  readonly grooves: readonly Groove[];
  /** The one that was taken away last, for as long as the page lives. */
  readonly removedGroove: Groove | undefined;
  /** What takes the middle of the screen. */
  readonly view: View;
  /** What the side shows. */
  readonly stack: Stack;
  /** Phrases that were played, the oldest first. */
  readonly echoes: readonly Echo[];
  /** Ids of those that go on the one before them. */
  readonly joinedEchoes: ReadonlySet<number>;
  readonly openEcho: OpenEcho | undefined;
  /** What is heard in place of the beat. */
  readonly preview: Preview | undefined;
  /** How much longer than usual a pause must be to part two echoes. */
  readonly echoPatience: number;
  readonly readOnly: boolean;
  /** Why it is read only, or not. */
  readonly editorState: EditorState;
  readonly transport: Transport;
  /** Overdub at each opening: a mode left over from last time must not wipe a kick. */
  readonly mode: RecordMode;
  /** While writing is "record", by part, those that were struck. */
  readonly recordings: Readonly<Record<number, Recording>>;
  /** By part, so many octaves its keys are up, or down where negative. */
  readonly octaves: Readonly<Record<number, number>>;
  readonly pickUp: PickUp | undefined;
  readonly erasing: Erasing;
  readonly repeat: NoteRepeat;
  readonly step: StepCursor;
  readonly tapped: TappedTempo | undefined;
  readonly calibration: Calibration | undefined;
  readonly midi: MidiState;
  readonly saveState: SaveState;
  readonly memoryReason: MemoryReason | undefined;
  readonly sound: SoundState;
  /** Undefined as long as no sounds are being made. */
  readonly soundProgress: SoundProgress | undefined;
  /** What parts strike and is not there yet, be it made or fetched. */
  readonly soundsAwaited: readonly SoundSetId[];
  readonly outputLatencyMs: number;
  /** What was too loud: held until it is looked at, so that a clip in the second chorus is not missed. */
  readonly clip: Clip | undefined;
  readonly settings: Settings;
  /** Whole beats that were kept under a name, the newest first; known once they were asked for. */
  readonly keptStates: readonly KeptState[];
  /** The name of the one that was deleted last, as long as it can be brought back. */
  readonly removedState: string | undefined;
  /** The player's own kits, once somebody has looked, and the one that was deleted last. */
  readonly ownKits: readonly OwnKit[];
  readonly removedKit: { readonly kit: OwnKit; putSamplesBack(): Promise<void> } | undefined;
  /** What the samples of the beat take. */
  readonly sampleBytes: number;
  /** Passes that an earlier page did not live to keep, until the player has decided about them. */
  readonly lostPasses: readonly KeptPass[];
  /** What was just done or refused, for the status line, and how often something was said: the same may be said twice. */
  readonly notice: string;
  readonly noticeCount: number;
}

export const STOPPED: Transport = { running: false, waiting: false, writing: "off" };
export const NO_MIDI: MidiState = {
  access: "off",
  devices: [],
  profiles: {},
  seen: [],
  learning: undefined,
  learnNext: [],
  recoverable: undefined,
};

/** The recorded hits that the timing panel is about; undefined where it is about the next ones. */
export function quantizeScopeOf(timingScope: TimingScope, selected: readonly number[]): QuantizeScope | undefined {
  if (timingScope.kind === "next") return undefined;
  return timingScope.kind === "selected" ? { kind: "hits", ids: new Set(selected) } : timingScope;
}

/** Where a part is; in its first pattern where it was in none that is there. */
export function placeOf({ history, patternRef, otherPatterns }: WorkspaceState, partId: number): PatternRef {
  if (partId === patternRef.partId) return patternRef;
  const { patterns } = findPart(history.present, partId);
  const known = patterns.find(({ id }) => id === otherPatterns[partId]) ?? patterns[0]!;
  return { partId, patternId: known.id };
}

/** A part that is being recorded: the open one, and those that were struck besides. */
export function isRecorded({ transport, patternRef, recordings }: WorkspaceState, partId: number): boolean {
  return transport.writing === "record" && (partId === patternRef.partId || partId in recordings);
}

/** A lane of the open part that is being erased. */
export function isErased({ erasing, patternRef }: WorkspaceState, lane: number): boolean {
  return erasing.lanes[patternRef.partId]?.includes(lane) ?? false;
}

/** What the open part goes on with. */
export function openQueued({ queued, patternRef }: WorkspaceState): QueuedPattern | undefined {
  return queued[patternRef.partId];
}

/** All parts where they are when what they go on with has taken over. */
export function settledPlaces(state: WorkspaceState): Pick<WorkspaceState, "patternRef" | "otherPatterns" | "queued"> {
  const others = Object.values(state.queued).map(({ patternRef: { partId, patternId } }) => [partId, patternId]);
  return {
    patternRef: openQueued(state)?.patternRef ?? state.patternRef,
    otherPatterns: { ...state.otherPatterns, ...Object.fromEntries(others) },
    queued: {},
  };
}

/** The stretch of a pattern that goes round: its region, or all of it where the region no longer fits. */
export function spanOf({ history, regions }: WorkspaceState, patternRef: PatternRef): LoopSpan {
  const whole = wholeSpan(findPattern(history.present, patternRef), history.present.meter);
  const region = regions[patternRef.patternId];
  return region && region.startTicks + region.lengthTicks <= whole.lengthTicks ? region : whole;
}
