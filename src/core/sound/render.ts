import { ticksToFrames } from "../time/tempo";
import { TICKS_PER_QUARTER, type Ticks } from "../time/ticks";
import type { Samples } from "./dsp";
import type { EventTable } from "./event-table";
import { longestSeconds, type Kit } from "./kit";
import { Player } from "./player";

/** Frames that the audio thread makes at a time (Web Audio: a render quantum). */
export const BLOCK_FRAMES = 128;

export interface StereoSound {
  readonly left: Samples;
  readonly right: Samples;
  readonly sampleRate: number;
}

/** `loop`: exactly one lap as it sounds when it goes round, earlier tails at its head. `tail`: one lap and its tail. */
export type RenderMode = "loop" | "tail";

/** Renders one lap of a table with the player of the audio thread, without the click. */
export function renderLap(table: EventTable, kit: Kit, mode: RenderMode): StereoSound {
  return mode === "loop" ? renderLoop(table, kit) : renderWithTail(table, kit);
}

function renderLoop(table: EventTable, kit: Kit): StereoSound {
  const lapFrames = ticksToFrames(table.span.lengthTicks, table.bpm, kit.sampleRate);
  // A whole number of frames a lap, so that every lap is the same: the tempo gives way by less than half a frame a lap.
  const bpm = (60 * kit.sampleRate * table.span.lengthTicks) / (TICKS_PER_QUARTER * lapFrames);
  // Only as much of the laps before as may still ring when this one begins.
  const ringFrames = Math.ceil(longestSeconds(kit) * kit.sampleRate);
  const lapsBefore = Math.ceil(ringFrames / lapFrames);
  const fromTicks = ((lapsBefore * lapFrames - ringFrames) * table.span.lengthTicks) / lapFrames;
  const player = startedPlayer({ ...table, bpm }, kit, fromTicks as Ticks);
  run(player, ringFrames);
  return run(player, lapFrames);
}

function renderWithTail(table: EventTable, kit: Kit): StereoSound {
  const player = startedPlayer(table, kit, 0 as Ticks, 1);
  const lapFrames = ticksToFrames(table.span.lengthTicks, table.bpm, kit.sampleRate);
  const sound = run(player, lapFrames + Math.ceil(longestSeconds(kit) * kit.sampleRate));
  let last = sound.left.length;
  while (last > lapFrames && sound.left[last - 1] === 0 && sound.right[last - 1] === 0) last--;
  return { ...sound, left: sound.left.slice(0, last), right: sound.right.slice(0, last) };
}

/** A file begins on its downbeat: what sounds ahead of it comes from the lap before, which only a loop has. */
function startedPlayer(table: EventTable, kit: Kit, fromTicks: Ticks, laps = Infinity): Player {
  const player = new Player(kit.sampleRate, table);
  player.setKit(kit);
  player.start({ run: 0, fromTicks, countIn: false, laps });
  return player;
}

function run(player: Player, frames: number): StereoSound {
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let frame = 0; frame < frames; frame += BLOCK_FRAMES) {
    const end = Math.min(frames, frame + BLOCK_FRAMES);
    player.process(left.subarray(frame, end), right.subarray(frame, end));
  }
  return { left, right, sampleRate: player.sampleRate };
}
