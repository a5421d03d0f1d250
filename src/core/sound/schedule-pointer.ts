import type { Ticks } from "../time/ticks";
import type { EventTable } from "./event-table";

/** Which lap each event of a table sounds in next. */
export class SchedulePointer {
  readonly laps: Int32Array;
  /** No event sounds before this position. */
  soonestTicks = -Infinity;

  constructor(count: number) {
    this.laps = new Int32Array(count);
  }

  /** Every event's next lap for a transport that stands at `position` (ticks from the first downbeat). */
  static from(table: EventTable, run: number, position: number): SchedulePointer {
    const pointer = new SchedulePointer(table.ids.length);
    for (let index = 0; index < table.ids.length; index++) pointer.laps[index] = nextLap(table, index, run, position);
    return pointer;
  }

  /**
   * After a swap of tables of equal length: an event of both keeps its lap, so it neither sounds again when it moves
   * ahead of the playhead nor goes missing when it moves behind. Both lists of ids ascend.
   */
  static carryOver(
    old: SchedulePointer,
    before: EventTable,
    after: EventTable,
    run: number,
    position: number,
  ): SchedulePointer {
    const pointer = new SchedulePointer(after.ids.length);
    let other = 0;
    for (let index = 0; index < after.ids.length; index++) {
      while (other < before.ids.length && before.ids[other] < after.ids[index]) other++;
      const known = other < before.ids.length && before.ids[other] === after.ids[index];
      pointer.laps[index] = known
        ? Math.max(old.laps[other], firstLap(after, index, run))
        : nextLap(after, index, run, position);
    }
    return pointer;
  }

  ticksOf(table: EventTable, index: number): Ticks {
    return (this.laps[index] * table.span.lengthTicks + table.ticks[index]) as Ticks;
  }
}

function firstLap(table: EventTable, index: number, run: number): number {
  return table.run === run ? Math.max(0, table.fromLaps[index]) : 0;
}

function nextLap(table: EventTable, index: number, run: number, position: number): number {
  const upcoming = Math.ceil((position - table.ticks[index]) / table.span.lengthTicks);
  return Math.max(upcoming, firstLap(table, index, run));
}
