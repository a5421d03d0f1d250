import { createStore, type StoreApi } from "zustand/vanilla";
import type { Beat } from "@/core/beat/beat";
import { renameBeat } from "@/core/beat/edit";
import { newBeat } from "@/core/beat/new-beat";
import { CoreError } from "@/core/core-error";
import { MAX_FILE_BYTES } from "@/core/formats/limits";
import type { BeatRecord } from "./database";
import type { MemoryReason, Repository } from "./repository";

/** Something the shelf says, with the way back where there is one. */
export interface ShelfNotice {
  readonly kind: "done" | "refused";
  readonly title: string;
  readonly details: readonly string[];
  readonly undo?: () => void;
}

export interface ShelfState {
  /** Undefined until they are read. */
  readonly records: readonly BeatRecord[] | undefined;
  readonly memoryReason: MemoryReason | undefined;
  readonly notice: ShelfNotice | undefined;
}

/** The list of beats and what can be done with a whole beat. */
export class Shelf {
  readonly store: StoreApi<ShelfState>;

  constructor(
    private readonly repository: Repository,
    private readonly newId: () => string = () => crypto.randomUUID(),
  ) {
    this.store = createStore<ShelfState>(() => ({ records: undefined, memoryReason: undefined, notice: undefined }));
  }

  async refresh(): Promise<void> {
    const records = await this.repository.list();
    this.store.setState({ records, memoryReason: this.repository.memoryReason });
  }

  /** @returns the new beat's id */
  async create(): Promise<string> {
    return this.add(newBeat({ id: this.newId(), name: this.freeName("New beat") }));
  }

  async duplicate(beat: Beat): Promise<string> {
    return this.add({ ...beat, id: this.newId(), name: this.freeName(beat.name) });
  }

  async rename(beat: Beat, name: string): Promise<void> {
    await this.repository.save(renameBeat(beat, name));
    await this.refresh();
  }

  /** Removes a beat; the notice holds the way back. */
  async remove(record: BeatRecord): Promise<void> {
    await this.repository.remove(record.id);
    await this.refresh();
    const undo = async () => {
      await this.repository.put(record);
      await this.refresh();
      this.dismiss();
    };
    this.store.setState({
      notice: { kind: "done", title: `Deleted “${record.beat.name}”.`, details: [], undo: () => void undo() },
    });
  }

  /** Takes beat files and MIDI files; a bad one is refused by name and the others still come in. */
  async importFiles(files: readonly File[]): Promise<void> {
    const done: string[] = [];
    const details: string[] = [];
    let refused = false;
    for (const file of files) {
      try {
        const { beat, leftOut } = await this.readFile(file);
        await this.repository.save(beat);
        done.push(`“${beat.name}”`);
        details.push(...leftOut.map((line) => `${file.name}, left out: ${line}`));
      } catch (error) {
        refused = true;
        details.push(`${file.name}: ${(error as Error).message}`);
        if (error instanceof CoreError) details.push(...error.problems.slice(1, 4));
      }
    }
    await this.refresh();
    const title = done.length === 0 ? "Nothing was imported." : `Imported ${done.join(", ")}.`;
    this.store.setState({ notice: { kind: refused ? "refused" : "done", title, details } });
  }

  dismiss(): void {
    this.store.setState({ notice: undefined });
  }

  private async readFile(file: File): Promise<{ beat: Beat; leftOut: readonly string[] }> {
    if (file.size > MAX_FILE_BYTES)
      throw new CoreError("too-large", "This file is larger than 10 MB, the most that is read.");
    const bytes = new Uint8Array(await file.arrayBuffer());
    if (String.fromCharCode(...bytes.subarray(0, 4)) === "MThd" || /\.midi?$/i.test(file.name)) {
      const { midiToBeat } = await import("@/core/formats/midi-to-beat");
      return midiToBeat(bytes, this.newId(), file.name.replace(/\.midi?$/i, "").slice(0, 120) || "From MIDI");
    }
    const { readBeatFile } = await import("@/core/formats/beat-file");
    const beat = readBeatFile(new TextDecoder().decode(bytes));
    const taken = this.store.getState().records?.some(({ id }) => id === beat.id);
    // A file of a beat that is here must not overwrite it.
    return { beat: taken ? { ...beat, id: this.newId(), name: this.freeName(beat.name) } : beat, leftOut: [] };
  }

  private async add(beat: Beat): Promise<string> {
    await this.repository.save(beat);
    await this.refresh();
    return beat.id;
  }

  private freeName(wanted: string): string {
    const base = wanted.replace(/ \d+$/, "");
    const names = new Set(this.store.getState().records?.map(({ beat }) => beat.name));
    if (!names.has(base)) return base;
    let number = 2;
    while (names.has(`${base} ${number}`)) number++;
    return `${base} ${number}`;
  }
}
