/**
 * What a page that goes away has not saved yet: the browser's store answers too late for it, while local storage takes
 * a text at once. What does not fit is left out; the store may still get it.
 */
export class UnloadBackup<T> {
  /** @param kind what its keys begin with */
  constructor(
    private readonly storage: Storage | undefined,
    private readonly kind: string,
  ) {}

  /** @returns false where it does not fit, or may not be kept */
  leave(id: string, value: T): boolean {
    try {
      this.storage?.setItem(this.kind + id, JSON.stringify(value));
      return true;
    } catch {
      return false;
    }
  }

  /** What earlier pages left something under. */
  ids(): readonly string[] {
    return Array.from({ length: this.storage?.length ?? 0 }, (_, index) => this.storage?.key(index) ?? "")
      .filter((key) => key.startsWith(this.kind))
      .map((key) => key.slice(this.kind.length));
  }

  read(id: string): T | undefined {
    try {
      const text = this.storage?.getItem(this.kind + id);
      return text ? (JSON.parse(text) as T) : undefined;
    } catch {
      return undefined;
    }
  }

  /** To be called when it is in the store. */
  drop(id: string): void {
    this.storage?.removeItem(this.kind + id);
  }
}

/** Even asking for it fails where it is forbidden. */
export function localStorageOf(window: Partial<Pick<Window, "localStorage">>): Storage | undefined {
  try {
    return window.localStorage;
  } catch {
    return undefined;
  }
}
