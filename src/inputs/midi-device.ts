import type { Pad, Part } from "@/core/beat/beat";
import { findLane, padsOf } from "@/core/beat/lanes";
import { DRUMS, type DrumId, type PadRole } from "@/core/drums";
import { GM_PERCUSSION } from "@/core/formats/midi/gm-percussion";
import type { CommandListener } from "./commands";
import type { DeviceProfile, Target, Trigger } from "./device-profile";
import { sameTrigger } from "./device-profile";
import { HAT_PEDAL_CONTROLLER, movePedal, PEDAL_AT_REST, type HatPedal } from "./hat-pedal";
import { readMidiMessage, type MidiMessage } from "./midi-message";
import type { PadListener } from "./played-hit";
import { curvedVelocity } from "./velocity-curve";

/** A switch is down from the middle of its range on (MIDI 1.0: 64 and more is on). */
const SWITCH_ON = 64;
/** Controller 64 holds notes (MIDI 1.0; from memory). */
const SUSTAIN_CONTROLLER = 64;
/** A hand on a cymbal presses hard at once (common practice, no source). */
const GRAB_FROM = 64;
/** How long a half-open hat rings. */
const HALF_OPEN_SECONDS = 0.11;
/** A foot is softer than a stick. */
const SPLASH_VELOCITY = 72;

/** What the input light and the list of last hits show. */
export interface SeenMessage {
  readonly device: string;
  /** Note or controller, and how hard; a number of 0..127 each. */
  readonly trigger: Trigger;
  readonly value: number;
  readonly timeMs: number;
  /** The name of a pad or a command, or why nothing came of it; undefined for a note that no pad has. */
  readonly did: string | undefined;
}

export interface MidiDeviceDeps {
  readonly listener: PadListener & CommandListener;
  profile(): DeviceProfile;
  /** The part that it plays. */
  part(): Part;
  seen(message: SeenMessage): void;
  /** Takes a trigger that somebody waits for to learn. @returns true when it was taken */
  taught(trigger: Trigger): boolean;
}

type NoteOn = Extract<MidiMessage, { type: "note-on" }>;

/** One MIDI device: its notes become strokes and commands by its profile, and it knows what it holds. */
export class MidiDevice {
  private pedal: HatPedal = PEDAL_AT_REST;
  private pedalMoved = false;
  /** Which pad or command each note that is down has triggered, so that its end reaches the same one. */
  private readonly held = new Map<number, Target>();
  private readonly heldSwitches = new Map<number, Target>();
  /** Notes that were let go while the sustain pedal is down; undefined while it is up. */
  private sustained: Target[] | undefined;
  private readonly lastStrikeMs = new Map<number, number>();

  constructor(private readonly deps: MidiDeviceDeps) {}

  receive(bytes: ArrayLike<number>, stampMs: number): void {
    // A driver without a clock must not make strokes that are nowhere.
    const timeMs = Number.isFinite(stampMs) ? stampMs : performance.now();
    const profile = this.deps.profile();
    const message = readMidiMessage(bytes);
    if (!message || !profile.on || (profile.channel !== 0 && message.channel !== profile.channel)) return;
    switch (message.type) {
      case "note-on":
        return this.noteOn(message, profile, timeMs);
      case "note-off":
        return this.noteOff(message.note, timeMs);
      case "note-pressure":
        return this.pressNote(message.note, message.value, timeMs);
      case "channel-pressure":
        for (const target of this.held.values()) this.press(target, message.value);
        return;
      case "controller":
        return this.control(message.controller, message.value, profile, timeMs);
      default:
        return message satisfies never;
    }
  }

  /** Ends everything that is down: the device is gone, or was switched off. */
  letGo(timeMs: number): void {
    const sustained = this.sustained ?? [];
    this.sustained = undefined;
    for (const target of [...sustained, ...this.held.values(), ...this.heldSwitches.values()]) this.end(target, timeMs);
    this.held.clear();
    this.heldSwitches.clear();
  }

  private noteOn({ note, velocity }: NoteOn, profile: DeviceProfile, timeMs: number): void {
    const trigger: Trigger = { kind: "note", number: note };
    if (this.deps.taught(trigger)) return;
    const target = this.targetOf(profile, note);
    this.deps.seen({ device: profile.device, trigger, value: velocity, timeMs, did: this.nameOf(target) });
    if (!target) return;
    this.noteOff(note, timeMs);
    this.held.set(note, target);
    if (target.kind === "command") return this.deps.listener.command(target.command, true, timeMs);
    const level = profile.fixedVelocity || curvedVelocity(velocity, profile.curve);
    this.strike(target.pad, level, profile, timeMs);
  }

  private strike(lane: number, velocity: number, profile: DeviceProfile, timeMs: number): void {
    const sinceMs = timeMs - (this.lastStrikeMs.get(lane) ?? -Infinity);
    const maskMs = this.playsTonal ? 0 : (profile.padMaskMs[lane] ?? profile.maskMs);
    const masked = sinceMs >= 0 && sinceMs < maskMs;
    // Counted from the stroke itself, so that a row of false notes does not hold off the next true one.
    if (!masked) this.lastStrikeMs.set(lane, timeMs);
    const half = this.roleOf(lane) === "hatOpen" && this.pedalMoved && this.pedal.opening === "half";
    this.deps.listener.strike({
      lane,
      velocity,
      timeMs,
      device: profile.device,
      ...(masked && { masked }),
      ...(half && { cutSeconds: HALF_OPEN_SECONDS }),
    });
  }

  private noteOff(note: number, timeMs: number): void {
    const target = this.held.get(note);
    if (!target) return;
    this.held.delete(note);
    if (this.sustained && target.kind === "pad" && this.playsTonal) this.sustained.push(target);
    else this.end(target, timeMs);
  }

  private end(target: Target, timeMs: number): void {
    if (target.kind === "command") this.deps.listener.command(target.command, false, timeMs);
    else this.deps.listener.release({ lane: target.pad, timeMs, device: this.deps.profile().device });
  }

  private pressNote(note: number, value: number, timeMs: number): void {
    const target = this.held.get(note) ?? this.targetOf(this.deps.profile(), note);
    if (target?.kind !== "pad") return;
    if (this.roleOf(target.pad) !== "cymbal") this.press(target, value);
    else if (value >= GRAB_FROM)
      this.deps.listener.choke({ lane: target.pad, timeMs, device: this.deps.profile().device });
  }

  private press(target: Target, value: number): void {
    if (target.kind === "pad") this.deps.listener.press(target.pad, Math.max(1, value));
  }

  private control(controller: number, value: number, profile: DeviceProfile, timeMs: number): void {
    const trigger: Trigger = { kind: "controller", number: controller };
    const isPedal = controller === HAT_PEDAL_CONTROLLER;
    if (!isPedal && value >= SWITCH_ON && this.deps.taught(trigger)) return;
    const target = profile.mappings.find((mapping) => sameTrigger(mapping.trigger, trigger))?.target;
    // What it holds it lets go, whatever the device plays by then.
    const sustains = controller === SUSTAIN_CONTROLLER && (this.playsTonal || this.sustained !== undefined);
    const did = target ? this.nameOf(target) : isPedal ? "Hat pedal" : sustains ? "Sustain pedal" : "nothing";
    this.deps.seen({ device: profile.device, trigger, value, timeMs, did });
    if (target) return this.throwSwitch(controller, value, target, profile, timeMs);
    if (sustains) return this.sustain(value >= SWITCH_ON, timeMs);
    if (isPedal) this.movePedal(profile.pedalReversed ? 127 - value : value, profile, timeMs);
  }

  private sustain(down: boolean, timeMs: number): void {
    if (down) {
      this.sustained ??= [];
      return;
    }
    const sustained = this.sustained ?? [];
    this.sustained = undefined;
    const held = [...this.held.values()];
    for (const target of sustained) if (!held.some((other) => sameTarget(other, target))) this.end(target, timeMs);
  }

  private throwSwitch(controller: number, value: number, target: Target, profile: DeviceProfile, timeMs: number): void {
    const wasDown = this.heldSwitches.has(controller);
    const isDown = value >= SWITCH_ON;
    if (isDown === wasDown) return;
    if (!isDown) {
      this.heldSwitches.delete(controller);
      return this.end(target, timeMs);
    }
    this.heldSwitches.set(controller, target);
    if (target.kind === "command") this.deps.listener.command(target.command, true, timeMs);
    else this.strike(target.pad, profile.fixedVelocity || value, profile, timeMs);
  }

  private movePedal(value: number, profile: DeviceProfile, timeMs: number): void {
    const { pedal, closes, splashes } = movePedal(this.pedal, value, timeMs);
    this.pedal = pedal;
    this.pedalMoved = true;
    const open = this.padOf("openHat");
    if (open === undefined) return;
    if (closes) this.deps.listener.choke({ lane: open, timeMs, device: profile.device });
    if (splashes) this.strike(open, profile.fixedVelocity || SPLASH_VELOCITY, profile, timeMs);
  }

  /** A note of a tonal part; of a kit a learnt note, else the pad that has it, else the pad whose drum General MIDI names; hats go by the pedal. */
  private targetOf(profile: DeviceProfile, note: number): Target | undefined {
    const trigger: Trigger = { kind: "note", number: note };
    const learnt = profile.mappings.find((mapping) => sameTrigger(mapping.trigger, trigger))?.target;
    if (learnt?.kind === "command") return learnt;
    if (this.playsTonal) return { kind: "pad", pad: note };
    const pad = learnt?.pad ?? this.padWithNote(note) ?? this.padOf(GM_PERCUSSION[note]?.drum);
    return pad === undefined ? undefined : { kind: "pad", pad: this.hatByPedal(pad) };
  }

  private hatByPedal(lane: number): number {
    const role = this.roleOf(lane);
    if (!this.pedalMoved || (role !== "hatClosed" && role !== "hatOpen")) return lane;
    const wanted = this.pedal.opening === "closed" ? "hatClosed" : "hatOpen";
    return this.pads.find((other) => other.role === wanted)?.id ?? lane;
  }

  private get playsTonal(): boolean {
    return this.deps.part().kind === "tonal";
  }

  private get pads(): readonly Pad[] {
    return padsOf(this.deps.part());
  }

  private padWithNote(note: number): number | undefined {
    return this.pads.find((pad) => pad.note === note)?.id;
  }

  private padOf(drum: DrumId | undefined): number | undefined {
    return drum && this.padWithNote(DRUMS[drum].note);
  }

  private roleOf(lane: number): PadRole | undefined {
    return this.pads.find(({ id }) => id === lane)?.role;
  }

  private nameOf(target: Target | undefined): string | undefined {
    if (!target) return undefined;
    if (target.kind === "command") return target.command;
    return findLane(this.deps.part(), target.pad)?.name ?? "a pad of another part";
  }
}

function sameTarget(a: Target, b: Target): boolean {
  return a.kind === "pad" && b.kind === "pad" && a.pad === b.pad;
}
