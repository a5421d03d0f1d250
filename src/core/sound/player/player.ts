import { barTicks } from "../../time/meter";
import type { Bpm } from "../../time/tempo";
import { framesPerTick } from "../../time/tempo";
import type { Ticks } from "../../time/ticks";
import type { TransportAnchor } from "../../time/transport-anchor";
import { anchorFrameAt, anchorTicksAt } from "../../time/transport-anchor";
import type { ClickSamples } from "./click";
import { renderClick } from "./click";
import { clickSound, nextClickTicks, SILENT_CLICK, type ClickSettings } from "./click-track";
import { firstTicks, NO_PART, type EventTable } from "./event-table";
import type { LoudnessMeter } from "../loudness/loudness";
import { Bus, type LanePeak } from "../mix/bus";
import type { Kernel } from "../kernel/kernel";
import { newKernel } from "../kernel/new-kernel";
import { PlainKernel } from "../kernel/plain-kernel";
import { KeptSounds } from "./kept-sounds";
import { EVERY_LANE, Mixer } from "../mix/mixer";
import type { NoteSink, RepeatedNote, RepeatHold } from "./note-repeater";
import { layerFor, layerGain, NO_LANE, type PartLanes, type SoundId, type Sounds } from "../signal/sound";
import { roomDesign } from "../kernel/room-design";
import { StruckSounds } from "./struck-sounds";
import { NO_RUN, Track, type LaneMix, type QueuedChange, type SwitchMoment, type TrackHost } from "./track";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { ceil, max, min, round } = Math;

/** What a note that another part plays along is held for at the least: strokes of a kit are short. */
export const LEAST_FOLLOWED_TICKS = 240;

/** Places are compared to a millionth of a tick. */
const TICK_PARTS = 1e6;

/** How a run begins. */
export interface PlayerStart {
  readonly segment: number;
  /** Where it begins; before the first downbeat when negative. */
  readonly fromTicks: Ticks;
  /** The frame at which that was, when it is not the next one: a run that a stroke began has begun with the stroke. */
  readonly frame?: number;
  /** The click sounds up to the first downbeat, whether it is on or not. */
  readonly countIn: boolean;
  /** Stops the transport at the end of that lap of the leading part, while tails ring on; without it, it runs. */
  readonly laps?: number;
  /** Only the leading part begins: for a click without a beat. */
  readonly leadOnly?: boolean;
}

/** The highest amplitude of a part, and of those of its lanes that sound. */
export interface PartPeak {
  readonly partId: number;
  readonly peak: number;
  readonly lanes: readonly LanePeak[];
}

/** What the player tells its host; each is called while a block is made or a message taken. */
export interface PlayerEvents {
  anchor(anchor: TransportAnchor): void;
  queued(change: QueuedChange): void;
  /** The transport came to the end of its last lap by itself. */
  ended(segment: number): void;
  repeated(note: RepeatedNote): void;
}

/** How the click is struck. */
const PLAIN = { gainLeft: 1, gainRight: 1, chokeGroup: 0 };

const NOBODY: PlayerEvents = { anchor() {}, queued() {}, ended() {}, repeated() {} };

/** Where the transport is, whatever its parts play: what joins it later goes along. */
interface Clock {
  readonly segment: number;
  readonly frame: number;
  readonly ticks: Ticks;
  readonly bpm: Bpm;
}

/**
 * One clock, a track a part, click and voices, driven block by block; the same object runs in the audio thread and in
 * renders. One part leads: the click and the last lap are its.
 */
export class Player {
  readonly mixer: Mixer;
  private readonly tracks: Track[] = [];
  private readonly clickSamples: ClickSamples;
  /** The click is no music: it takes no voice from it, and is not measured with it. */
  private readonly clickMixer: Mixer;
  private readonly clickBus = new Bus();
  private frame = 0;
  private readonly struck: StruckSounds;
  /** Undefined where the kernel has no place of its own for samples. */
  private readonly kept: KeptSounds | undefined;
  private lead: Track;
  private clock: Clock | undefined;
  private lapsLeft = Infinity;
  private countIn = false;
  private nextClick = 0 as Ticks;
  private click: ClickSettings = SILENT_CLICK;
  private variant = 0;
  private rate = 0 as Ticks;

  /** @param kernel another one than the machine's quickest; sounds are kept in its memory where it has room for any */
  constructor(
    readonly sampleRate: number,
    table: EventTable,
    private readonly events: PlayerEvents = NOBODY,
    kernel: Kernel = newKernel(sampleRate),
  ) {
    this.mixer = new Mixer(sampleRate, kernel);
    this.kept = kernel.samples && new KeptSounds(kernel.samples, (samples) => this.mixer.isPlaying(samples));
    this.clickMixer = new Mixer(sampleRate, new PlainKernel(roomDesign(sampleRate)));
    this.struck = new StruckSounds(sampleRate);
    this.clickSamples = renderClick(sampleRate);
    this.lead = this.addTrack(table);
  }

  /** What the leading part plays. */
  get playing(): EventTable {
    return this.lead.table;
  }

  /** What all parts play, the leading one first. */
  get allPlaying(): readonly EventTable[] {
    return [this.lead, ...this.tracks.filter((track) => track !== this.lead)].map(({ table }) => table);
  }

  get running(): boolean {
    return this.clock !== undefined;
  }

  /** Sounds that are there from here on; lanes whose sounds have not come yet are silent. */
  addSounds(sounds: Sounds): void {
    this.struck.add(this.kept?.keep(sounds) ?? sounds);
  }

  /** Sounds that are needed no more. */
  dropSounds(ids: readonly SoundId[]): void {
    this.struck.drop(ids);
    this.kept?.drop(ids);
  }

  /** What the lanes of a part strike from here on; what rings, rings on, but what is held in a part that follows no more. */
  setLanes(partId: number, lanes: PartLanes): void {
    for (const { partId: otherId } of this.struck.also(partId))
      if (!lanes.also?.some((one) => one.partId === otherId)) this.letGoAll(otherId);
    this.struck.setLanes(partId, lanes);
  }

  setClick(click: ClickSettings): void {
    const otherLines = click.subdivisionTicks !== this.click.subdivisionTicks;
    this.click = click;
    if (otherLines) this.findClickNow();
  }

  /** The next block begins here; hosts with a clock of their own keep it in step. */
  seek(frame: number): void {
    this.frame = frame;
  }

  start({ segment, fromTicks, frame = this.frame, countIn, laps = Infinity, leadOnly = false }: PlayerStart): void {
    this.lapsLeft = laps;
    this.countIn = countIn;
    this.clock = { segment, frame, ticks: fromTicks, bpm: this.playing.bpm };
    for (const track of leadOnly ? [this.lead] : this.tracks) track.start(segment, fromTicks, frame);
  }

  stop(): void {
    this.clock = undefined;
    for (const track of this.tracks) track.stop();
  }

  /** Sounds a stroke with the next block. @param cutSeconds after so long it is cut off; 0 lets it ring */
  hit(partId: number, lane: number, velocity: number, cutSeconds = 0): void {
    this.variant++;
    const track = this.trackOf(partId) ?? this.lead;
    this.host.strike(track, lane, velocity, this.variant, this.frame, cutSeconds * this.sampleRate, cutSeconds > 0);
  }

  /** A hand lets go of a lane: a note that it holds there ends. */
  letGo(partId: number, lane: number): void {
    this.onLane(partId, lane, (track, its) => this.mixer.letGo(track.bus, its, this.frame));
  }

  /** A hand grabs what rings on a lane. */
  choke(partId: number, lane: number): void {
    this.onLane(partId, lane, (track, its) => this.mixer.chokeLane(track.bus, its, this.frame));
  }

  /** Events of these lanes make no sound: they are being erased. Strokes and repeats do. */
  silence(partId: number, lanes: readonly number[]): void {
    this.trackOf(partId)?.silence(lanes);
  }

  /** How the lanes of a part are heard; what sounds goes along with it. */
  mix(partId: number, mix: LaneMix): void {
    this.trackOf(partId)?.setMix(mix);
  }

  /** The rate at which held lanes repeat, in whichever part; 0 ends it. */
  setRate(stepTicks: Ticks): void {
    this.rate = stepTicks;
    for (const { repeater } of this.tracks) repeater.setRate(stepTicks);
  }

  /** Holds a lane while notes repeat. */
  hold(partId: number, hold: RepeatHold): void {
    this.trackOf(partId)?.hold(hold, this.frame);
  }

  release(partId: number, lane: number): void {
    this.trackOf(partId)?.repeater.release(lane);
  }

  /** From here on a held lane repeats at this level. */
  press(partId: number, lane: number, velocity: number): void {
    this.trackOf(partId)?.repeater.press(lane, velocity);
  }

  /** Replaces what parts play, all of them at the same moment; a part that was not there plays along from here. */
  setTables(tables: readonly EventTable[]): void {
    const [{ bpm }] = tables as [EventTable];
    const { clock } = this;
    if (clock && bpm !== clock.bpm)
      this.clock = { segment: clock.segment, frame: this.frame, ticks: this.clockTicks(clock), bpm };
    for (const table of tables) {
      const track = this.trackOf(table.partId) ?? this.vacant;
      if (track) track.setTable(table, this.frame);
      else this.join(table);
    }
  }

  /** Takes a part out; what rings of it rings on, what a hand holds ends. The leading one stays. */
  removePart(partId: number): void {
    const at = this.tracks.findIndex((track) => track.partId === partId && track !== this.lead);
    if (at < 0) return;
    this.letGoAll(partId);
    this.tracks.splice(at, 1);
    this.struck.setLanes(partId, undefined);
  }

  /** Lets a part lead: the click goes by its loop, and the last lap is one of its. */
  setLead(partId: number): void {
    const track = this.trackOf(partId);
    if (!track || track === this.lead) return;
    const stopFrame = this.stopFrame();
    this.lead = track;
    if (track.anchor && stopFrame !== Infinity) {
      const laps = anchorTicksAt(track.anchor, stopFrame, this.sampleRate) / track.table.span.lengthTicks;
      this.lapsLeft = max(1, ceil(laps - 1 / TICK_PARTS));
    }
    this.findClickNow();
  }

  /**
   * Lets another pattern of a part take over at a musical moment; the last one that was asked for counts.
   * @param lapOf the part whose lap it is that ends then
   */
  queueTable(table: EventTable, segment: number, moment: SwitchMoment, lapOf = table.partId): void {
    const track = this.trackOf(table.partId);
    if (!track) return this.join(table);
    const other = moment === "lap" && lapOf !== table.partId ? this.trackOf(lapOf) : undefined;
    const frame = other?.lapEndFrame(this.frame);
    if (frame === undefined || !track.anchor) track.queueTable(table, segment, moment, this.frame);
    else track.queueTableAt(table, segment, wholeTicksAt(track.anchor, frame, this.sampleRate), this.frame);
  }

  /** Takes back what was queued as that run, unless it has taken over already. */
  unqueue(segment: number): void {
    for (const track of this.tracks) track.unqueue(segment);
  }

  /** How loud each part and its lanes were since the last time this was asked. */
  takePeaks(): readonly PartPeak[] {
    return this.tracks.map(({ partId, bus }) => ({ partId, peak: bus.takePeak(), lanes: bus.takeLanePeaks() }));
  }

  /** Fills a block. @param meter measures the music, without the click */
  process(left: Float32Array, right: Float32Array, meter?: LoudnessMeter): void {
    left.fill(0);
    right.fill(0);
    this.kept?.moveSome();
    this.advance(this.frame + left.length);
    this.mixer.addTo(left, right, this.frame);
    meter?.add(left, right);
    this.clickMixer.addTo(left, right, this.frame);
    this.frame += left.length;
  }

  private advance(endFrame: number): void {
    // The leading part first: it says where all of them stop.
    this.lead.advance(this.frame, endFrame);
    for (const track of this.tracks) if (track !== this.lead) track.advance(this.frame, endFrame);
    const { anchor } = this.lead;
    if (anchor && round(this.stopFrame()) < endFrame) {
      this.stop();
      this.events.ended(anchor.segment);
    }
  }

  /** Where the leading part's last lap ends, in the positions of what it plays. */
  private leadStop(): Ticks {
    return (this.lapsLeft * this.lead.table.span.lengthTicks) as Ticks;
  }

  private stopFrame(): number {
    const { anchor } = this.lead;
    if (!anchor || this.lapsLeft === Infinity) return Infinity;
    return anchorFrameAt(anchor, this.leadStop(), this.sampleRate);
  }

  private stopTicks(track: Track): number {
    if (track === this.lead) return this.leadStop();
    const stopFrame = this.stopFrame();
    if (stopFrame === Infinity || !track.anchor) return Infinity;
    return wholeTicksAt(track.anchor, stopFrame, this.sampleRate);
  }

  private playClick({ anchor, table }: Track, endFrame: number, untilTicks: number): void {
    while (anchor) {
      const ticks = this.nextClick;
      const frame = round(anchorFrameAt(anchor, ticks, this.sampleRate));
      if (frame >= endFrame || ticks >= untilTicks) return;
      this.nextClick = nextClickTicks(table, this.click, (ticks + 1) as Ticks);
      if ((this.click.on || (this.countIn && ticks < 0)) && frame >= this.frame) {
        const samples = clickSound(table, this.click, ticks, this.clickSamples);
        this.clickMixer.start(this.clickBus, 0, PLAIN, samples, this.click.gain, 1, frame, 0);
      }
    }
  }

  private readonly host: TrackHost = {
    sampleRate: 0,
    strike: (track, lane, velocity, variant, frame, heldFrames, choked) => {
      this.sound(track, lane, velocity, variant, frame, heldFrames, choked);
      const also = this.struck.also(track.partId);
      if (also.length === 0) return;
      const leastFrames = heldFrames > 0 ? LEAST_FOLLOWED_TICKS * framesPerTick(track.table.bpm, this.sampleRate) : 0;
      for (const { partId, lanes } of also) {
        const follower = this.trackOf(partId);
        if (follower && lanes[lane] !== NO_LANE)
          this.sound(follower, lanes[lane]!, velocity, variant, frame, max(heldFrames, leastFrames), choked);
      }
    },
    anchored: (anchor) => this.events.anchor(anchor),
    queued: (change) => this.events.queued(change),
    repeated: (track) => this.sinkOf(track),
    jumped: (track, ticks) => {
      if (track === this.lead) this.nextClick = nextClickTicks(track.table, this.click, ticks);
    },
    lapsDone: (track, laps) => {
      if (track === this.lead) this.lapsLeft = max(1, this.lapsLeft - laps);
    },
    stopTicks: (track) => this.stopTicks(track),
    alongside: (track, endFrame, untilTicks) => {
      if (track === this.lead) this.playClick(track, endFrame, untilTicks);
    },
  };

  private sound(
    track: Track,
    lane: number,
    velocity: number,
    variant: number,
    frame: number,
    heldFrames: number,
    choked: boolean,
  ): void {
    for (const struck of this.struck.of(track.partId, lane)) {
      const { sound, rate, from, to, held } = struck;
      if (velocity < from || velocity > to) continue;
      const layer = layerFor(sound.velocities, velocity);
      const variants = sound.layers[layer]!;
      const which = variant % variants.length;
      const gain = layerGain(sound.velocities[layer]!, velocity);
      const cutFrames = choked || held ? round(heldFrames) : 0;
      const right = sound.right?.[layer]![which];
      this.mixer.start(track.bus, lane, struck, variants[which]!, gain, rate, frame, cutFrames, right);
    }
  }

  /** Does something with a lane, and with those that it also plays. */
  private onLane(partId: number, lane: number, each: (track: Track, lane: number) => void): void {
    const own = this.trackOf(partId);
    if (own) each(own, lane);
    for (const { partId: otherId, lanes } of this.struck.also(partId)) {
      const follower = this.trackOf(otherId);
      if (follower && lanes[lane] !== NO_LANE) each(follower, lanes[lane]!);
    }
  }

  /** What repeats in a track sounds, and is told. */
  private sinkOf(track: Track): NoteSink {
    return ({ lane }, velocity, line, frame) => {
      this.variant++;
      const heldFrames = track.repeater.stepTicks * framesPerTick(track.table.bpm, this.sampleRate);
      this.host.strike(track, lane, velocity, this.variant, frame, heldFrames, false);
      const { anchor, partId, repeater } = track;
      this.events.repeated({
        partId,
        lane,
        velocity,
        lineTicks: anchor ? line : undefined,
        segment: anchor?.segment ?? NO_RUN,
        frame,
        stepTicks: repeater.stepTicks,
      });
    };
  }

  private addTrack(table: EventTable): Track {
    const track = new Track(table, { ...this.host, sampleRate: this.sampleRate });
    track.repeater.setRate(this.rate);
    this.tracks.push(track);
    return track;
  }

  /** A new part is where it would be had it been there from the start. */
  private join(table: EventTable): void {
    const track = this.addTrack(table);
    const { clock } = this;
    if (clock) track.start(clock.segment, this.clockTicks(clock), this.frame);
  }

  /** The leading track, as long as it has no part. */
  private get vacant(): Track | undefined {
    return this.lead.partId === NO_PART && !this.running ? this.lead : undefined;
  }

  private letGoAll(partId: number): void {
    const track = this.trackOf(partId);
    if (track) this.mixer.letGo(track.bus, EVERY_LANE, this.frame);
  }

  private trackOf(partId: number): Track | undefined {
    for (const track of this.tracks) if (track.partId === partId) return track;
    return undefined;
  }

  private clockTicks({ frame, ticks, bpm }: Clock): Ticks {
    return (ticks + (this.frame - frame) / framesPerTick(bpm, this.sampleRate)) as Ticks;
  }

  private findClickNow(): void {
    const { anchor, table } = this.lead;
    if (anchor) this.nextClick = nextClickTicks(table, this.click, anchorTicksAt(anchor, this.frame, this.sampleRate));
  }
}

/** After a way through frames and back a whole tick is whole again. */
function wholeTicksAt(anchor: TransportAnchor, frame: number, sampleRate: number): Ticks {
  return (round(anchorTicksAt(anchor, frame, sampleRate) * TICK_PARTS) / TICK_PARTS) as Ticks;
}

/** Where a run begins: whole bars of count-in, or with what sounds ahead of the first downbeat. */
export function startTicks(tables: readonly EventTable[], countInBars: number): Ticks {
  const [lead] = tables as [EventTable];
  if (countInBars > 0) return (-countInBars * barTicks(lead.meter)) as Ticks;
  return tables.reduce((first, table) => min(first, firstTicks(table)) as Ticks, 0 as Ticks);
}
