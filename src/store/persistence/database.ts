import Dexie, { type EntityTable, type Table } from "dexie";
import type { Beat } from "@/core/beat/beat";
import type { Groove } from "@/core/beat/feel";
import type { OwnKit } from "@/core/beat/own-kit";
import type { KeptPass } from "@/core/beat/kept-pass";
import { upgradeBeat, upgradeKeptPass, type Beat1, type KeptPass1 } from "@/core/formats/beat-1";
import type { Sound } from "@/core/sound/sound";
import type { DeviceProfile } from "@/inputs/device-profile";
import type { Settings } from "../workspace/settings";
import type { KeptStep } from "./step-log";

export interface BeatRecord {
  readonly id: string;
  /** Milliseconds since 1970. */
  readonly changedAt: number;
  readonly beat: Beat;
  /** The last step of its history that was made; without it what is kept of the history is not this beat's. */
  readonly step?: number;
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
  /** The table it was in. */
  readonly table: "journal" | "lookback";
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

/** What the browser keeps. A new version gets a new `version()` with its upgrade; old ones stay as they are. */
export class EchoPocketDatabase extends Dexie {
  readonly beats!: EntityTable<BeatRecord, "id">;
  readonly journal!: EntityTable<JournalRecord, "beatId">;
  readonly editors!: EntityTable<EditorRecord, "beatId">;
  readonly damaged!: EntityTable<DamagedRecord, "id">;
  readonly sounds!: EntityTable<SoundRecord, "key">;
  readonly settings!: EntityTable<SettingsRecord, "key">;
  readonly marks!: EntityTable<MarkRecord, "key">;
  readonly profiles!: EntityTable<DeviceProfile, "device">;
  readonly grooves!: EntityTable<Groove, "name">;
  readonly lookback!: EntityTable<LookbackRecord, "id">;
  readonly echoMarks!: Table<EchoMarkRecord, [number, string]>;
  readonly steps!: Table<StepRecord, [string, number]>;
  readonly keptStates!: EntityTable<KeptStateRecord, "id">;
  readonly samples!: EntityTable<SampleRecord, "id">;
  readonly ownKits!: EntityTable<OwnKit, "name">;

  constructor(name = "echo-pocket") {
    super(name);
    this.version(1).stores({ beats: "id, changedAt", journal: "beatId", kits: "key", settings: "key", marks: "key" });
    this.version(2).stores({ profiles: "device" });
    this.version(3).stores({ grooves: "name" });
    this.version(4).stores({ lookback: "++id", echoMarks: "[id+kind]" });
    this.version(5).upgrade((change) =>
      change
        .table("journal")
        .toCollection()
        .modify((record: { pass: unknown }) => {
          record.pass = JSON.stringify(record.pass);
        }),
    );
    this.version(6)
      .stores({ beats: "id, changedAt, beat.name", editors: "beatId", damaged: "++id" })
      .upgrade(async (change) => {
        const beats = new Map<string, BeatRecord>();
        await change.table<BeatRecord>("beats").each((record) => void beats.set(record.id, record));
        await change
          .table("journal")
          .toCollection()
          .modify((record: JournalBefore6 & { passes?: string }) => {
            record.passes = `[${keptPassText(record, beats.get(record.beatId)?.beat)}]`;
            delete record.place;
            delete record.pass;
          });
      });
    this.version(7).upgrade(async (change) => {
      await change
        .table("beats")
        .toCollection()
        .modify((record: { beat: Beat | Beat1 }) => {
          record.beat = upgraded(record.beat, (beat) => upgradeBeat(beat as Beat1));
        });
      await change
        .table("journal")
        .toCollection()
        .modify((record: { passes: string }) => {
          record.passes = upgraded(record.passes, (text) => JSON.stringify(upgradeJournal(text)));
        });
    });
    // Kits were kept whole; what was rendered can be rendered again.
    this.version(8).stores({ kits: null, sounds: "key" });
    this.version(9).stores({ steps: "[beatId+number]", keptStates: "++id, beatId" });
    this.version(10).stores({ samples: "id", ownKits: "name" });
  }
}

function upgradeJournal(text: string): readonly KeptPass[] {
  return (JSON.parse(text) as readonly KeptPass1[]).map(upgradeKeptPass);
}

/** What can't be upgraded stays as it is, and is told apart when it is read. */
function upgraded<T>(value: T, upgrade: (value: T) => T): T {
  try {
    return upgrade(value);
  } catch {
    return value;
  }
}

/** One pass, without its pattern. */
interface JournalBefore6 {
  readonly beatId: string;
  place?: KeptPass["place"];
  /** A Pass as JSON. */
  pass?: string;
}

function keptPassText({ place, pass }: JournalBefore6, beat: Beat | undefined): string {
  const part = beat?.parts.find(({ id }) => id === place?.partId);
  const pattern = part?.patterns.find(({ id }) => id === place?.patternId) ?? part?.patterns[0];
  const { id = 0, name = "Pattern", bars = 2 } = pattern ?? {};
  return `{"place":${JSON.stringify(place)},"pattern":${JSON.stringify({ id, name, bars })},"pass":${pass}}`;
}
