import type { Beat } from "@/core/beat/beat";
import type { Groove } from "@/core/beat/feel";
import type { OwnKit } from "@/core/beat/edits/own-kit";
import type { Sound } from "@/core/sound/signal/sound";
import type { DeviceProfile } from "@/inputs/device-profile";
import type { Settings } from "../../settings";
import type { KeptStep } from "./step-log";

export interface BeatRecord {
  readonly id: string;
  /** Milliseconds since 1970. */
  readonly changedAt: number;
  readonly beat: Beat;
  /** The last step of its history that was made; without it what is kept of the history is not this beat's. */
  readonly step?: number;
  /** Another one with each time it is written; before version 11 there was none. */
  readonly written?: string;
  /** Number of hits of a pass that lie in rows of their own, by the pass's id: in the beat it has none. */
  readonly apart?: Readonly<Record<number, number>>;
}

/** Hits of a pass of many. */
export interface HitsRecord {
  readonly beatId: string;
  readonly passId: number;
  readonly number: number;
  /** Hit[] as JSON: the browser copies a thousand small objects fifty times more slowly than a text. */
  readonly hits: string;
}

/** A step of a beat's history. */
export interface StepRecord extends KeptStep {
  readonly beatId: string;
}

/** A beat as it was when the player kept it under a name. */
export interface KeptStateRecord {
  readonly id: number;
  readonly beatId: string;
  readonly name: string;
  /** Milliseconds since 1970. */
  readonly atMs: number;
  readonly beat: Beat;
}

/** What was recorded and is not in the beat on disk, for the case that the page does not live to keep it. */
export interface JournalRecord {
  readonly beatId: string;
  readonly writtenAt: number;
  /** KeptPass[] as JSON, since every half second long ones would be copied hit by hit. */
  readonly passes: string;
}

/** The tab that edits a beat: what others still want to write is refused. */
export interface EditorRecord {
  readonly beatId: string;
  readonly token: string;
}

/** A record that can't be read, put aside as it is. */
export interface DamagedRecord {
  readonly id: number;
  /** The table it was in; or a page had left it when it went away. */
  readonly table: "journal" | "lookback" | "backup";
  readonly problem: string;
  readonly record: unknown;
}

/** A sound as it was rendered. */
export interface SoundRecord {
  /** Which, at which rate, and of which revision of the voices. */
  readonly key: string;
  readonly sound: Sound;
}

/** A sample of the player's own. */
export interface SampleRecord {
  /** The digest of its WAV file. */
  readonly id: string;
  readonly wav: Uint8Array<ArrayBuffer>;
  /** Milliseconds since 1970. */
  readonly addedAt: number;
}

export interface SettingsRecord {
  readonly key: "settings";
  readonly settings: Settings;
}

/** Strokes in the order in which they were played. */
export interface LookbackRecord {
  readonly id: number;
  readonly count: number;
  /** Milliseconds since 1970, of the newest. */
  readonly lastMs: number;
  /** LookbackHit[] as JSON: the browser copies a thousand small objects fifty times more slowly than a text. */
  readonly hits: string;
}

/** What the player did with an echo. */
export interface EchoMarkRecord {
  /** The echo's. */
  readonly id: number;
  /** It was brought back, or it goes on the one before it. */
  /** "used" is of earlier versions: the beat is asked now. */
  readonly kind: "used" | "joined";
}

/** Something that was done once and is not done again. */
export interface MarkRecord {
  readonly key: string;
}

/** The tables, and what their rows are when they are written. */
export interface TableRows {
  readonly beats: BeatRecord;
  readonly hits: HitsRecord;
  readonly journal: JournalRecord;
  readonly editors: EditorRecord;
  readonly damaged: DamagedRecord;
  readonly sounds: SoundRecord;
  readonly settings: SettingsRecord;
  readonly marks: MarkRecord;
  readonly profiles: DeviceProfile;
  readonly grooves: Groove;
  readonly lookback: LookbackRecord;
  readonly echoMarks: EchoMarkRecord;
  readonly steps: StepRecord;
  readonly keptStates: KeptStateRecord;
  readonly samples: SampleRecord;
  readonly ownKits: OwnKit;
}

export type TableName = keyof TableRows;

/** Tables whose rows are numbered as they are added. */
type Numbered = "damaged" | "lookback" | "keptStates";

/** By what a row of each table is found. */
export type RowKey<N extends TableName> = N extends Numbered
  ? number
  : N extends "steps"
    ? readonly [beatId: string, number: number]
    : N extends "hits"
      ? readonly [beatId: string, passId: number, number: number]
      : N extends "echoMarks"
        ? readonly [id: number, kind: string]
        : string;

/** A row as it is added: a numbered one without its number. */
export type NewRow<N extends TableName> = N extends Numbered ? Omit<TableRows[N], "id"> : TableRows[N];
