import { ticksToFrames } from "../../time/tempo";
import { leastCommonMultiple, TICKS_PER_QUARTER, type Ticks } from "../../time/ticks";
import type { Samples } from "../signal/dsp";
import { firstTicks, type EventTable } from "./event-table";
import { BLOCK_FRAMES } from "../kernel/layout";
import { Limiter } from "../mix/limiter";
import { limiterDelayFrames } from "../mix/limiter-delay";
import { ROOM_TAIL_SECONDS } from "../mix/room";
import { ringFrames, type PartLanes, type SoundBank, type SoundId } from "../signal/sound";
import { LEAST_FOLLOWED_TICKS, Player } from "./player";
import type { LaneMix } from "./track";

export interface StereoSound {
  readonly left: Samples;
  readonly right: Samples;
  readonly sampleRate: number;
}

/**
 * `loop`: exactly one lap as it sounds when it goes round, earlier tails at its head. `tail`: one lap and its tail; it begins
 * with what sounds ahead of the downbeat.
 */
export type RenderMode = "loop" | "tail";

/** What is heard beside the dry sounds. */
export interface Finish {
  /** Peaks are kept under the ceiling. */
  readonly limited: boolean;
  /** What is sent into the room comes back. */
  readonly room: boolean;
}

const ALL: Finish = { limited: true, room: true };

/** A sound that is made block by block, once, so that nobody has to hold all of it. */
export interface SoundStream {
  readonly sampleRate: number;
  readonly frames: number;
  /** What is silent after so many frames is no part of it. */
  readonly leastFrames: number;
  /** Fills the next frames, `BLOCK_FRAMES` at most. */
  readonly next: (left: Samples, right: Samples) => void;
}

/** What a part plays, what its lanes strike, and how loud they are: as they are made, where nothing is said. */
export interface PartSound {
  readonly table: EventTable;
  readonly lanes: PartLanes;
  /** The sounds that it needs; all of the bank where nothing is said. */
  readonly sounds?: readonly SoundId[];
  readonly mix?: LaneMix;
}

/**
 * One lap of what parts play until they begin together again, made with the player of the audio thread, without the click.
 */
export function lapStream(parts: readonly PartSound[], bank: SoundBank, mode: RenderMode, finish = ALL): SoundStream {
  return mode === "loop" ? loopStream(parts, bank, finish) : tailStream(parts, bank, finish);
}

function loopStream(parts: readonly PartSound[], bank: SoundBank, finish: Finish): SoundStream {
  const [{ table }] = parts as [PartSound];
  const lapTicks = commonTicks(parts);
  const lapFrames = ticksToFrames(lapTicks, table.bpm, bank.sampleRate);
  // A whole number of frames a lap, so that every lap is the same: the tempo gives way by less than half a frame a lap.
  const bpm = (60 * bank.sampleRate * lapTicks) / (TICKS_PER_QUARTER * lapFrames);
  // Only as much of the laps before as may still ring when this one begins.
  const ringing = longestFrames(parts, bank, finish);
  const lapsBefore = Math.ceil(ringing / lapFrames);
  const fromTicks = ((lapsBefore * lapFrames - ringing) * lapTicks) / lapFrames;
  const player = startedPlayer(parts, bank, bpm, fromTicks as Ticks);
  return streamOf(player, finish, ringing, lapFrames, lapFrames);
}

function tailStream(parts: readonly PartSound[], bank: SoundBank, finish: Finish): SoundStream {
  const [{ table }] = parts as [PartSound];
  const lapTicks = commonTicks(parts);
  const fromTicks = parts.reduce((first, part) => Math.min(first, firstTicks(part.table, part.mix?.muted)), 0) as Ticks;
  const player = startedPlayer(parts, bank, table.bpm, fromTicks, lapTicks / table.span.lengthTicks);
  const lapFrames = ticksToFrames((lapTicks - fromTicks) as Ticks, table.bpm, bank.sampleRate);
  return streamOf(player, finish, 0, lapFrames + longestFrames(parts, bank, finish), lapFrames);
}

/** @param before so many frames of what is played are no part of it */
function streamOf(
  player: Player,
  { limited, room }: Finish,
  before: number,
  frames: number,
  leastFrames: number,
): SoundStream {
  const { sampleRate } = player;
  const limiter = limited ? new Limiter(sampleRate) : undefined;
  player.mixer.room.open = room;
  const next = (left: Samples, right: Samples) => {
    player.process(left, right);
    limiter?.process(left, right);
  };
  // What the limiter holds back is not part of it either.
  const [left, right] = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
  forEachBlock(before + (limited ? limiterDelayFrames(sampleRate) : 0), (_, count) =>
    next(left.subarray(0, count), right.subarray(0, count)),
  );
  return { sampleRate, frames, leastFrames, next };
}

/** What may ring on behind its stroke: the longest sound, behind the longest note, where any is held. */
function longestFrames(parts: readonly PartSound[], { sounds, sampleRate }: SoundBank, { room }: Finish): number {
  let [frames, ticks] = [0, 0];
  for (const { table, sounds: needed = Object.keys(sounds) } of parts) {
    const struck = needed.flatMap((id) => sounds[id] ?? []);
    frames = struck.reduce((most, sound) => Math.max(most, ringFrames(sound)), frames);
    if (struck.some(({ held }) => held))
      ticks = table.lengthTicks.reduce((most, one) => Math.max(most, one), Math.max(ticks, LEAST_FOLLOWED_TICKS));
  }
  const inRoom = room && parts.some(({ mix }) => mix?.room.some((sent) => sent > 0));
  const roomFrames = inRoom ? Math.ceil(ROOM_TAIL_SECONDS * sampleRate) : 0;
  return frames + roomFrames + ticksToFrames(ticks as Ticks, parts[0]!.table.bpm, sampleRate);
}

function commonTicks(parts: readonly PartSound[]): Ticks {
  return parts.reduce((ticks, { table }) => leastCommonMultiple(ticks, table.span.lengthTicks), 1) as Ticks;
}

function startedPlayer(
  parts: readonly PartSound[],
  bank: SoundBank,
  bpm: number,
  fromTicks: Ticks,
  laps = Infinity,
): Player {
  const tables = parts.map(({ table }) => ({ ...table, bpm }));
  const player = new Player(bank.sampleRate, tables[0]!);
  player.addSounds(bank.sounds);
  player.setTables(tables);
  for (const { table, lanes, mix } of parts) {
    player.setLanes(table.partId, lanes);
    if (mix) player.mix(table.partId, mix);
  }
  player.start({ segment: 0, fromTicks, countIn: false, laps });
  return player;
}

export function forEachBlock(frames: number, block: (fromFrame: number, count: number) => void): void {
  for (let frame = 0; frame < frames; frame += BLOCK_FRAMES) block(frame, Math.min(BLOCK_FRAMES, frames - frame));
}

/** All of a stream at once. */
export function collect(stream: SoundStream): StereoSound {
  const [left, right] = [new Float32Array(stream.frames), new Float32Array(stream.frames)];
  forEachBlock(stream.frames, (from, count) =>
    stream.next(left.subarray(from, from + count), right.subarray(from, from + count)),
  );
  let last = stream.frames;
  while (last > stream.leastFrames && left[last - 1] === 0 && right[last - 1] === 0) last--;
  return { left: left.subarray(0, last), right: right.subarray(0, last), sampleRate: stream.sampleRate };
}
