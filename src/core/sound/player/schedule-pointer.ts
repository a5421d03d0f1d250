import { MAX_IDS } from "../../limits";
import type { Ticks } from "../../time/ticks";
import { emptyTable, type EventTable } from "./event-table";

/**
 * Which event of a table comes next, and up to which lap each event has sounded. Both are found without a walk over the
 * table: a block looks at the events that are due in it, a change of tables at those that have just been due.
 */
export class SchedulePointer {
  private table: EventTable = emptyTable(100, { beats: 4, unit: 4 }, 3840 as Ticks);
  private segment = -1;
  /** Where the run began, or went on in another stretch: what lies before it is no matter. */
  private since = 0;
  /** What comes next: an event of the table's order, in that trip round the loop. */
  private at = 0;
  private trip = 0;
  /** By id: `base` and the number of laps that the event is done with; what is below `base` is of an earlier run. */
  private done = new Int32Array(1024);
  private base = 1;
  private mostDone = 0;
  /** Events that a change of tables moved behind the playhead. */
  readonly overdue: number[] = [];

  /** Begins a run at a place (ticks from the first downbeat): whatever lies before it waits for its next lap. */
  start(table: EventTable, segment: number, position: number): void {
    this.base += this.mostDone + 1;
    this.mostDone = 0;
    this.overdue.length = 0;
    this.segment = segment;
    this.since = position;
    this.take(table);
    this.seek(position);
  }

  /**
   * Swaps the table for one of equal length. An event of both that has sounded in this lap does not sound again when it
   * moves ahead of the playhead; one that has not, and moves behind, is overdue if that is no further than `lateTicks`. One
   * that was not there before waits for its next lap.
   */
  swap(table: EventTable, position: number, lateTicks: number): void {
    const before = this.table;
    this.overdue.length = 0;
    this.take(table);
    this.seek(Math.max(this.since, position - lateTicks));
    while (this.nextTicks < position) {
      const index = this.table.order[this.at]!;
      if (this.isDue(index)) {
        if (hasId(before, table.ids[index]!)) this.overdue.push(index);
        else this.finish(index, this.lapOf(index));
      }
      this.advance();
    }
  }

  /** Where the next event may sound, from the first downbeat. */
  get nextTicks(): Ticks {
    const { order, ticks, span } = this.table;
    if (order.length === 0) return Infinity as Ticks;
    const index = order[this.at]!;
    return (this.lapOf(index) * span.lengthTicks + ticks[index]!) as Ticks;
  }

  /** Goes on to the event after. @returns the event that was next; -1 where it does not sound in this lap */
  next(): number {
    const index = this.table.order[this.at]!;
    const due = this.isDue(index);
    if (due) this.finish(index, this.lapOf(index));
    this.advance();
    return due ? index : -1;
  }

  /** An event that is overdue at a place has sounded. */
  finishOverdue(index: number, position: number): void {
    const { ticks, span } = this.table;
    this.finish(index, Math.floor((position - ticks[index]!) / span.lengthTicks));
  }

  private take(table: EventTable): void {
    this.table = table;
    const last = table.ids.at(-1) ?? 0;
    if (last < this.done.length) return;
    const longer = new Int32Array(Math.min(MAX_IDS, 2 ** Math.ceil(Math.log2(last + 1))));
    longer.set(this.done);
    this.done = longer;
  }

  private seek(position: number): void {
    const { lengthTicks } = this.table.span;
    this.trip = Math.floor(position / lengthTicks);
    this.at = firstFrom(this.table, position - this.trip * lengthTicks);
    if (this.at === this.table.order.length) this.nextTrip();
  }

  private isDue(index: number): boolean {
    const { ids, fromLaps, segment } = this.table;
    const lap = this.lapOf(index);
    const first = segment === this.segment ? fromLaps[index]! : 0;
    return lap >= 0 && lap >= first && this.done[ids[index]!]! - this.base <= lap;
  }

  private finish(index: number, lap: number): void {
    this.done[this.table.ids[index]!] = this.base + lap + 1;
    if (lap + 1 > this.mostDone) this.mostDone = lap + 1;
  }

  private lapOf(index: number): number {
    return this.table.ticks[index]! < 0 ? this.trip + 1 : this.trip;
  }

  private advance(): void {
    this.at++;
    if (this.at === this.table.order.length) this.nextTrip();
  }

  private nextTrip(): void {
    this.at = 0;
    this.trip++;
  }
}

/** The first place of the order at or after a place in the loop; its length where there is none. */
function firstFrom({ order, ticks, span: { lengthTicks } }: EventTable, inLoop: number): number {
  let low = 0;
  let high = order.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const tick = ticks[order[middle]!]!;
    if ((tick < 0 ? tick + lengthTicks : tick) < inLoop) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Ids ascend. */
function hasId({ ids }: EventTable, id: number): boolean {
  let low = 0;
  let high = ids.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ids[middle]! < id) low = middle + 1;
    else high = middle;
  }
  return ids[low] === id;
}
