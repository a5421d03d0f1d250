import Dexie, { type EntityTable, type Table } from "dexie";
import type { Beat, Pass, PatternPlace } from "@/core/beat/beat";
import type { Groove } from "@/core/beat/feel";
import type { Kit } from "@/core/sound/kit";
import type { DeviceProfile } from "@/inputs/device-profile";
import type { Settings } from "./settings";

export interface BeatRecord {
  readonly id: string;
  /** Milliseconds since 1970. */
  readonly changedAt: number;
  readonly beat: Beat;
}

/** The pass being recorded, for the case that the page does not live to keep it. */
export interface JournalRecord {
  readonly beatId: string;
  readonly place: PatternPlace;
  readonly pass: Pass;
  readonly writtenAt: number;
}

/** The journal as it is kept: the pass as JSON, since every half second a long one would be copied hit by hit. */
export interface StoredJournal extends Omit<JournalRecord, "pass"> {
  readonly pass: string;
}

export interface KitRecord {
  readonly key: string;
  readonly kit: Kit;
}

export interface SettingsRecord {
  readonly key: "settings";
  readonly settings: Settings;
}

/** What was played in a second or two, in the order in which it was. */
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
  readonly kind: "used" | "joined";
}

/** Something that was done once and is not done again. */
export interface MarkRecord {
  readonly key: string;
}

/** What the browser keeps. A new version gets a new `version()` with its upgrade; old ones stay as they are. */
export class EchoPocketDatabase extends Dexie {
  readonly beats!: EntityTable<BeatRecord, "id">;
  readonly journal!: EntityTable<StoredJournal, "beatId">;
  readonly kits!: EntityTable<KitRecord, "key">;
  readonly settings!: EntityTable<SettingsRecord, "key">;
  readonly marks!: EntityTable<MarkRecord, "key">;
  readonly profiles!: EntityTable<DeviceProfile, "device">;
  readonly grooves!: EntityTable<Groove, "name">;
  readonly lookback!: EntityTable<LookbackRecord, "id">;
  readonly echoMarks!: Table<EchoMarkRecord, [number, string]>;

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
  }
}
