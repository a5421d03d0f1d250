import { DRUM_IDS } from "@/core/drums";
import { emptyTable, orderOf, type EventTable } from "@/core/sound/player/event-table";
import type { Samples } from "@/core/sound/signal/dsp";
import type { Bus } from "@/core/sound/mix/bus";
import type { Mixer } from "@/core/sound/mix/mixer";
import { Player, type PlayerEvents } from "@/core/sound/player/player";
import type { PartLanes, Sound, SoundBank } from "@/core/sound/signal/sound";
import { VOICE_IDS } from "@/core/instruments";
import { drumSound, soundsOf } from "@/core/sound/kits/sound-sets";
import type { LaneMix } from "@/core/sound/player/track";
import type { Ticks } from "@/core/time/ticks";

export const RATE = 48000;
/** The part of tables that are made here. */
export const PART = -1;

/** Sounds for the lanes of a kit's pads, by the lane. */
export function bankOf(sound: (lane: number) => Samples, more: Partial<Sound> = {}): SoundBank {
  const plain = { velocities: [127], gainLeft: 1, gainRight: 1, chokeGroup: 0, ...more };
  const sounds = DRUM_IDS.map((drum, lane) => [drumSound("deckhouse", drum), { layers: [[sound(lane)]], ...plain }]);
  return { sampleRate: RATE, sounds: Object.fromEntries(sounds) };
}

/** Every sound is a single sample, so that a hit's place can be read off. */
export const impulse = bankOf(() => Float32Array.of(0.25));

/** The same for every note of every voice. */
export const impulseNotes = Object.fromEntries(
  VOICE_IDS.flatMap(soundsOf).map((id): [string, Sound] => [
    id,
    { layers: [[Float32Array.of(0.25)]], velocities: [127], gainLeft: 1, gainRight: 1, chokeGroup: 0 },
  ]),
);

/** What the lanes of a kit strike. */
export const KIT_LANES: PartLanes = {
  lanes: DRUM_IDS.map((drum) => [{ soundId: drumSound("deckhouse", drum), rate: 1 }]),
};

/** Gives a player sounds for all parts that it may have. */
export function withSounds(player: Player, bank: SoundBank = impulse): Player {
  player.addSounds(bank.sounds);
  for (let partId = PART; partId < 16; partId++) player.setLanes(partId, KIT_LANES);
  return player;
}

/** A bar of 4/4 at 120 BPM with events at these ticks, all of pad 0. */
export function tableOf(ticks: readonly number[], more: Partial<EventTable> = {}): EventTable {
  const table = {
    ...emptyTable(120, { beats: 4, unit: 4 }, 3840 as Ticks),
    ids: Int32Array.from(ticks, (_, index) => index + 1),
    leads: Uint8Array.from(ticks, (tick) => (tick < 0 ? 1 : 0)),
    ticks: Float64Array.from(ticks),
    lanes: new Uint8Array(ticks.length),
    lengthTicks: new Float64Array(ticks.length).fill(60),
    choked: new Uint8Array(ticks.length),
    velocities: new Uint8Array(ticks.length).fill(127),
    variants: new Uint8Array(ticks.length),
    always: new Uint8Array(ticks.length),
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
    for (let at = 0; at < 128; at++) if (left[at] !== 0) heard.push(frame + at);
  }
  return heard;
}

/** A player that has just started. */
export function running(table: EventTable, fromTicks = 0, events?: PlayerEvents): Player {
  const player = withSounds(new Player(RATE, table, events));
  player.start({ segment: 1, fromTicks: fromTicks as Ticks, countIn: false });
  return player;
}

/** Starts a voice in a mixer, at its samples' own pitch. */
export function startVoice(
  mixer: Mixer,
  samples: Samples,
  gainLeft: number,
  gainRight: number,
  frame: number,
  bus: Bus,
  chokeGroup = 0,
  lane = 0,
  cutFrames = 0,
): void {
  mixer.start(bus, lane, { gainLeft, gainRight, chokeGroup }, samples, 1, 1, frame, cutFrames);
}

/** These gains, and nothing muted. */
export function mixOf(gains: Float32Array): LaneMix {
  return { gains, room: new Float32Array(128), muted: new Uint8Array(128) };
}
