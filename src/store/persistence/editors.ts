import type { Beat } from "@/core/beat/beat";
import { renameBeat } from "@/core/beat/edit";
import type { BeatTable } from "./tables/beat-table";
import { requestEditorLock, type EditorLock } from "./editor-lock";
import type { TabAnswer, TabChannel, TabRequest } from "./tab-channel";

/** A lock that is held when a beat is opened may be just about to be let go. */
const GRACE_MS = 600;

/** May this tab change the beat: yes; no, another one does; or nobody can tell, because the browser has no locks. */
export type EditorState = "editing" | "elsewhere" | "no locks";

export interface EditorsDeps {
  readonly beats: BeatTable;
  readonly locks: LockManager | undefined;
  readonly channel: TabChannel;
  readonly newId: () => string;
}

/** What the tab that edits a beat does when it is asked, or told. */
export interface EditorListener {
  /** It may change the beat from now on; what is on disk is newer than what it shows. */
  begin(): Promise<void>;
  /** Everything is to be on disk, and from now on nothing is changed. */
  end(): Promise<void>;
  /** The beat was taken away; what is not on disk yet can't be saved as it any more. */
  stolen(): void;
  rename(name: string): void;
  flush(): Promise<void>;
}

/** One tab edits a beat at a time: who it is, and how another one, or the shelf, comes to it. */
export class Editors {
  constructor(private readonly deps: EditorsDeps) {}

  /** Takes a seat at a beat: as its editor where it is free, else waiting for it. */
  async open(beatId: string): Promise<EditLease> {
    const seat = new EditLease(beatId, this.deps);
    await seat.open();
    return seat;
  }

  /**
   * Does something with a beat on disk while nobody edits it, or has its editor do it.
   * @param ask what the editor is asked for instead; without it, it is not asked
   * @returns undefined where another tab edits it and has not done it
   */
  async whileFree<T>(beatId: string, work: () => Promise<T>, ask?: TabRequest): Promise<T | "asked" | undefined> {
    const { locks, channel } = this.deps;
    // Without locks nobody edits.
    if (!locks) return work();
    const lock = await requestEditorLock(locks, beatId, { ifFree: true });
    if (!lock) return ask && (await channel.ask(beatId, ask)) === "done" ? "asked" : undefined;
    try {
      return await work();
    } finally {
      lock.release();
    }
  }

  /** @returns the beat under its new name; undefined where another tab that edits it does not answer */
  async rename(beatId: string, name: string): Promise<Beat | "asked" | undefined> {
    const { beats } = this.deps;
    const rename = () => beats.change(beatId, (beat) => renameBeat(beat, name));
    return this.whileFree(beatId, rename, { kind: "rename", name });
  }

  /** Has what another tab has of a beat written, if it answers. */
  async flush(beatId: string): Promise<void> {
    await this.whileFree(beatId, async () => undefined, { kind: "flush" });
  }
}

/** A tab at a beat. */
export class EditLease {
  readonly token: string;
  private lock: EditorLock | undefined;
  private waiting = new AbortController();
  private listener: EditorListener | undefined;
  private unserve = () => {};
  private closed = false;

  constructor(
    private readonly beatId: string,
    private readonly deps: EditorsDeps,
  ) {
    this.token = deps.newId();
  }

  get state(): EditorState {
    if (!this.deps.locks) return "no locks";
    return this.lock ? "editing" : "elsewhere";
  }

  /** Waits a moment for the beat; after that it goes on waiting in the background. */
  async open(): Promise<void> {
    const granted = this.wait();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const grace = new Promise<void>((done) => (timer = setTimeout(done, GRACE_MS)));
    await Promise.race([granted, grace]);
    clearTimeout(timer);
  }

  /** From here on the listener is told. */
  attach(listener: EditorListener): void {
    this.listener = listener;
    this.unserve = this.deps.channel.serve(this.beatId, (request) => this.answer(request));
  }

  /** Asks the other tab for the beat, and takes it where there is no answer. */
  async takeOver(): Promise<TabAnswer> {
    const { locks, channel } = this.deps;
    if (!locks || this.lock) return "done";
    const answer = await channel.ask(this.beatId, { kind: "hand over" });
    // Who hands it over lets it go; this tab has been waiting for it.
    if (answer === "silent" && !this.lock && !this.closed) {
      this.waiting.abort();
      await this.hold(await requestEditorLock(locks, this.beatId, { steal: true, onStolen: () => this.lose() }));
    }
    return answer;
  }

  close(): void {
    this.closed = true;
    this.waiting.abort();
    this.unserve();
    this.lock?.release();
    this.lock = undefined;
  }

  private async wait(): Promise<void> {
    const { locks } = this.deps;
    if (!locks) return;
    this.waiting = new AbortController();
    const { signal } = this.waiting;
    await this.hold(await requestEditorLock(locks, this.beatId, { signal, onStolen: () => this.lose() }));
  }

  private async hold(lock: EditorLock | undefined): Promise<void> {
    if (!lock) return;
    if (this.closed) return lock.release();
    await this.deps.beats.claim(this.beatId, this.token);
    // It was closed while the store answered.
    if (this.closed) return lock.release();
    this.lock = lock;
    await this.listener?.begin();
  }

  private lose(): void {
    this.lock = undefined;
    this.listener?.stolen();
    void this.wait();
  }

  /** @returns undefined where it is not this tab's to answer */
  private async answer(request: TabRequest): Promise<boolean | undefined> {
    if (!this.lock || !this.listener) return undefined;
    switch (request.kind) {
      case "rename":
        this.listener.rename(request.name);
        await this.listener.flush();
        return true;
      case "flush":
        await this.listener.flush();
        return true;
      case "hand over":
        await this.listener.end();
        this.lock?.release();
        this.lock = undefined;
        void this.wait();
        return true;
      default:
        return request satisfies never;
    }
  }
}
