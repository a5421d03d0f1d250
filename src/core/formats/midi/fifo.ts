/** First in, first out; unlike an array's `shift`, taking from a long one costs no more than from a short one. */
export class Fifo<T> {
  private readonly items: T[] = [];
  private next = 0;

  push(item: T): void {
    this.items.push(item);
  }

  take(): T | undefined {
    return this.next < this.items.length ? this.items[this.next++] : undefined;
  }

  /** What was not taken. */
  left(): readonly T[] {
    return this.items.slice(this.next);
  }
}
