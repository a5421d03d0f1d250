import { DRUM_IDS } from "@/core/drums";
import { emptyTable, orderOf, type EventTable } from "@/core/sound/event-table";
import { LAYER_VELOCITIES, type Kit } from "@/core/sound/kit";
import { Player, type PlayerEvents } from "@/core/sound/player";
import type { Ticks } from "@/core/time/ticks";

export const RATE = 48000;
/** The part of tables that are made here. */
export const PART = -1;

/** A kit whose every sound is a single sample, so that a hit's place can be read off. */
export const impulse: Kit = {
  sampleRate: RATE,
  drums: DRUM_IDS.map(() => ({
    layers: LAYER_VELOCITIES.map(() => [Float32Array.of(0.25)]),
    gainLeft: 1,
    gainRight: 1,
    chokeGroup: 0,
  })),
};

/** A bar of 4/4 at 120 BPM with events at these ticks, all of pad 0. */
export function tableOf(ticks: readonly number[], more: Partial<EventTable> = {}): EventTable {
  const table = {
    ...emptyTable(120, { beats: 4, unit: 4 }, 3840 as Ticks),
    ids: Int32Array.from(ticks, (_, index) => index + 1),
    leads: Uint8Array.from(ticks, (tick) => (tick < 0 ? 1 : 0)),
    ticks: Float64Array.from(ticks),
    lanes: new Uint8Array(ticks.length),
    drums: new Uint8Array(ticks.length),
    cutTicks: new Float64Array(ticks.length),
    velocities: new Uint8Array(ticks.length).fill(127),
    variants: new Uint8Array(ticks.length),
    fromLaps: new Int32Array(ticks.length),
    ...more,
  };
  return { ...table, order: orderOf(table.ticks, table.span.lengthTicks) };
}

/** Runs a player over blocks of 128 and returns the frames at which something sounded. */
export function framesHeard(player: Player, frames: number, between?: (frame: number) => void): number[] {
  const heard: number[] = [];
  const [left, right] = [new Float32Array(128), new Float32Array(128)];
  for (let frame = 0; frame < frames; frame += 128) {
    between?.(frame);
    player.process(left, right);
    left.forEach((sample, index) => sample !== 0 && heard.push(frame + index));
  }
  return heard;
}

/** A player that has just started. */
export function running(table: EventTable, fromTicks = 0, events?: PlayerEvents): Player {
  const player = new Player(RATE, table, events);
  player.setKit(impulse);
  player.start({ run: 1, fromTicks: fromTicks as Ticks, countIn: false });
  return player;
}
