import type { Clip } from "@/core/editing/clip";

const KEY = "echo-pocket copied hits";

/** What was copied last, here or in another tab of this browser. */
export class Clipboard {
  private latest: Clip | undefined;
  /** What this page put into the storage itself. */
  private written = "";

  /** @param storage undefined where the browser has none */
  constructor(private readonly storage: Pick<Storage, "getItem" | "setItem" | "removeItem"> | undefined) {}

  write(clip: Clip): void {
    this.latest = clip;
    this.written = JSON.stringify(clip);
    try {
      this.storage?.setItem(KEY, this.written);
    } catch {
      // Its room is used up: this copy is the page's alone, and an older one must not come in its place.
      this.storage?.removeItem(KEY);
    }
  }

  async read(): Promise<Clip | undefined> {
    return (await this.fromStorage()) ?? this.latest;
  }

  /** What another version of the app, or another page, has left there is looked at as closely as a file. */
  private async fromStorage(): Promise<Clip | undefined> {
    try {
      const text = this.storage?.getItem(KEY);
      if (!text || text === this.written) return undefined;
      // Nobody needs it before something from elsewhere is pasted.
      const { readClip } = await import("@/core/formats/clip-json");
      return readClip(text);
    } catch {
      return undefined;
    }
  }
}
