import { createStore, type StoreApi } from "zustand/vanilla";
import type { Beat } from "@/core/beat/beat";
import { newBeat } from "@/core/beat/new-beat";
import { samplesIn } from "@/core/beat/samples/pad-samples";
import { CoreError } from "@/core/core-error";
import { MAX_BEAT_FILE_BYTES, MAX_FILE_BYTES, MAX_SAMPLE_BYTES } from "@/core/limits";
import { newId } from "../new-id";
import type { DamagedBeat } from "../persistence/rows/kept-beat";
import type { Repository, Unreadable } from "../persistence/repository";
import type { BeatRecord } from "../persistence/rows/rows";
import type { MemoryReason } from "../persistence/tables/store-access";
import { wordsOf } from "../words-of";
import { plainName } from "@/core/beat/plain-name";

/** Something the shelf says, with the way back where there is one. */
export interface ShelfNotice {
  readonly kind: "done" | "refused";
  readonly title: string;
  readonly details: readonly string[];
  readonly undo?: () => void;
}

export interface ShelfState {
  /** Those that were asked for, the last changed first; undefined until they are read. */
  readonly records: readonly BeatRecord[] | undefined;
  /** How many of the newest were read, if there are older ones. */
  readonly readTo: number | undefined;
  /** False where what checks them could not be loaded: nobody knows of those on disk whether they can be read. */
  readonly checked: boolean;
  /** Beats that can't be read, and what else can't be. */
  readonly damaged: readonly DamagedBeat[];
  readonly unreadable: readonly Unreadable[];
  readonly memoryReason: MemoryReason | undefined;
  readonly notice: ShelfNotice | undefined;
}

/** So many beats are read, and as many again before one gets to the last of them. */
const STEP = 32;
/** Interval for loading the checks again. */
const CHECK_RETRY_MS = 3000;

/** The list of beats and what can be done with a whole beat. */
export class Shelf {
  readonly store: StoreApi<ShelfState>;
  private retryTimer: ReturnType<typeof setTimeout> | undefined;
  private isOpen = false;
  private wanted = STEP;

  constructor(
    private readonly repository: Repository,
    private readonly nextId: () => string = newId,
  ) {
    this.store = createStore<ShelfState>(() => ({
      records: undefined,
      readTo: undefined,
      checked: true,
      damaged: [],
      unreadable: [],
      memoryReason: undefined,
      notice: undefined,
    }));
  }

  /** Lists the beats and goes on listing them when the browser's store comes and goes. @returns the undo */
  open(): () => void {
    this.isOpen = true;
    void this.refresh().then(() => this.repository.samples.clearUnused());
    const undo = this.repository.onMemoryReason(() => void this.refresh());
    return () => {
      undo();
      this.isOpen = false;
      clearTimeout(this.retryTimer);
    };
  }

  async refresh(): Promise<void> {
    const { wanted } = this;
    const { records, damaged, hasMore, checked } = await this.repository.list(wanted);
    const unreadable = await this.repository.readUnreadable();
    // More was asked for meanwhile, and may be shown already.
    if (wanted !== this.wanted) return this.refresh();
    const { memoryReason } = this.repository;
    this.store.setState({ records, readTo: hasMore ? wanted : undefined, damaged, checked, unreadable, memoryReason });
    clearTimeout(this.retryTimer);
    if (!checked && this.isOpen) this.retryTimer = setTimeout(() => void this.refresh(), CHECK_RETRY_MS);
  }

  /** One is near the last of those that are read. */
  async showMore(): Promise<void> {
    this.wanted += STEP;
    await this.refresh();
  }

  /** @returns the new beat's id */
  async create(): Promise<string> {
    return this.add(newBeat({ id: this.nextId(), name: "New beat" }));
  }

  /** A copy of a beat as it is now, also where another window is changing it. @returns the new beat's id, if there is one */
  async duplicate(id: string): Promise<string | undefined> {
    await this.repository.settled();
    await this.repository.editors.flush(id);
    const loaded = await this.repository.load(id);
    if (loaded.status !== "found") return void (await this.refuse("The beat could not be read; nothing was copied."));
    return this.add({ ...loaded.beat, id: this.nextId(), name: nameOfCopy(loaded.beat.name) });
  }

  async rename(id: string, name: string): Promise<void> {
    await this.repository.settled();
    const renamed = await this.repository.editors.rename(id, name);
    const why = this.repository.memoryReason ? "The store does not take it" : "Another window has this beat";
    if (!renamed) return this.refuse(`${why}; the name is as it was.`);
    await this.refresh();
  }

  /** Removes a beat that nobody has open; the notice holds the way back. */
  async remove({ id, beat }: Pick<BeatRecord, "id" | "beat">): Promise<void> {
    await this.repository.settled();
    const { beats, editors } = this.repository;
    const gone = await editors.whileFree(id, async () => ({ restore: await beats.remove(id) }));
    if (!gone || gone === "asked")
      return this.refuse(`“${beat.name}” is open in another window; close it there to delete it.`);
    await this.refresh();
    const { restore } = gone;
    const undo = async () => {
      await restore?.();
      await this.refresh();
      this.dismiss();
    };
    this.say({ kind: "done", title: `Deleted “${beat.name}”.`, details: [], undo: () => void undo() });
  }

  /** Lets go of what can't be read, for good. */
  async forgetDamaged(): Promise<void> {
    const { damaged, unreadable } = this.store.getState();
    for (const { id } of damaged) await this.repository.beats.remove(id);
    await this.repository.forget(unreadable);
    await this.refresh();
  }

  /** Takes beat files and MIDI files; a bad one is refused by name and the others still come in. */
  async importFiles(files: readonly File[]): Promise<void> {
    const done: string[] = [];
    const details: string[] = [];
    let refused = false;
    for (const file of files) {
      try {
        const { beat, leftOut } = await this.readFile(file);
        const added = await this.repository.beats.add(beat);
        done.push(`“${added.name}”`);
        details.push(...leftOut.map((line) => `${file.name}, left out: ${line}`));
      } catch (error) {
        refused = true;
        details.push(`${file.name}: ${wordsOf(error)}`);
        if (error instanceof CoreError) details.push(...error.problems.slice(1, 4));
      }
    }
    await this.refresh();
    const title = done.length === 0 ? "Nothing was imported." : `Imported ${done.join(", ")}.`;
    this.say({ kind: refused ? "refused" : "done", title, details });
  }

  dismiss(): void {
    this.store.setState({ notice: undefined });
  }

  private say(notice: ShelfNotice): void {
    this.store.setState({ notice });
  }

  private async refuse(title: string): Promise<void> {
    await this.refresh();
    this.say({ kind: "refused", title, details: [] });
  }

  private async readFile(file: File): Promise<{ beat: Beat; leftOut: readonly string[] }> {
    const isMidi = /\.midi?$/i.test(file.name) || (await startOf(file)) === "MThd";
    const most = isMidi ? MAX_FILE_BYTES : MAX_BEAT_FILE_BYTES + MAX_SAMPLE_BYTES;
    if (file.size > most)
      throw new CoreError("too-large", `This file is larger than ${most / 2 ** 20} MB, the most that is read.`);
    const bytes = new Uint8Array(await file.arrayBuffer());
    const { readFileApart } = await import("@/workers/file-client");
    if (isMidi) {
      const name = file.name.replace(/\.midi?$/i, "").slice(0, 120) || "From MIDI";
      return readFileApart(bytes, (api) => api.midi(bytes, this.nextId(), name));
    }
    const { refuseOthers } = await import("../refuse-others");
    refuseOthers(bytes, ["beat"], "bad-beat-file");
    const { beat, samples } = await readFileApart(bytes, (api) => api.beat(bytes));
    if (!(await this.repository.samples.put(samples)))
      throw new CoreError("too-large", "The browser’s store has no room for its samples.");
    const named = { ...beat, name: plainName(beat.name) || "Beat without a name" };
    return { beat: named, leftOut: await this.missingSamples(beat) };
  }

  /** What a beat strikes, and nobody has. */
  private async missingSamples(beat: Beat): Promise<readonly string[]> {
    const wanted = samplesIn(beat);
    if (wanted.length === 0) return [];
    const there = await this.repository.samples.files(wanted);
    const missing = wanted.filter((id) => !there[id]).length;
    return missing === 0 ? [] : [`${missing} of its ${wanted.length} samples, whose pads are silent`];
  }

  private async add(beat: Beat): Promise<string> {
    const { id } = await this.repository.beats.add(beat, "free");
    await this.refresh();
    return id;
  }
}

/** @example nameOfCopy("Slow Harbour copy 2") // "Slow Harbour copy", which gets a number where there is one */
function nameOfCopy(name: string): string {
  return `${name.replace(/ copy( \d+)?$/, "").slice(0, 110)} copy`;
}

async function startOf(file: File): Promise<string> {
  return String.fromCharCode(...new Uint8Array(await file.slice(0, 4).arrayBuffer()));
}
