import Dexie, { type IndexableType, type Table } from "dexie";
import type { Beat } from "@/core/beat/beat";
import type { KeptPass } from "@/core/beat/edits/kept-pass";
import { upgradeBeat, upgradeKeptPass, type Beat1, type KeptPass1 } from "@/core/formats/beat-1";
import type { BeatRecord, NewRow, RowKey, TableName, TableRows } from "./rows";

type Tables = { readonly [N in TableName]: Table<TableRows[N], RowKey<N> & IndexableType, NewRow<N>> };

/** What the browser keeps. A new version gets a new `version()` with its upgrade; old ones stay as they are. */
export class EchoPocketDatabase extends Dexie {
  readonly beats!: Tables["beats"];
  readonly hits!: Tables["hits"];
  readonly journal!: Tables["journal"];
  readonly editors!: Tables["editors"];
  readonly damaged!: Tables["damaged"];
  readonly sounds!: Tables["sounds"];
  readonly settings!: Tables["settings"];
  readonly marks!: Tables["marks"];
  readonly profiles!: Tables["profiles"];
  readonly grooves!: Tables["grooves"];
  readonly lookback!: Tables["lookback"];
  readonly echoMarks!: Tables["echoMarks"];
  readonly steps!: Tables["steps"];
  readonly keptStates!: Tables["keptStates"];
  readonly samples!: Tables["samples"];
  readonly ownKits!: Tables["ownKits"];

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
    // Beats of before have their hits in place until they are written again.
    this.version(11).stores({ hits: "[beatId+passId+number]" });
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
