import type { Command } from "./commands";

/** What a note or a controller of a device is to do. */
export interface Mapping {
  readonly trigger: Trigger;
  readonly target: Target;
}

export interface Trigger {
  readonly kind: "note" | "controller";
  /** 0..127 */
  readonly number: number;
}

export type Target =
  | { readonly kind: "pad"; readonly pad: number }
  | { readonly kind: "command"; readonly command: Command };

/** How a device is listened to; it is found again by the device's name, whenever that is plugged in. */
export interface DeviceProfile {
  readonly device: string;
  readonly on: boolean;
  /** 1..16, or 0 for all. */
  readonly channel: number;
  /** In place of the General MIDI notes. */
  readonly mappings: readonly Mapping[];
  /** -1 (soft strokes stay soft) .. 0 (as played) .. 1 (soft strokes come up). */
  readonly curve: number;
  /** 1..127 for every stroke, or 0 for as played. */
  readonly fixedVelocity: number;
  /** A second note of a pad within this time is the same stroke. */
  readonly maskMs: number;
  /** The same for single pads, by pad id. */
  readonly padMaskMs: Readonly<Record<number, number>>;
  /** Some pedals send 0 when they are down. */
  readonly pedalReversed: boolean;
  /** The name of the part that it plays, in beats that have one; else the part that is open. */
  readonly plays: string;
  /** How much later than it was struck a hit arrives; taken off its time. */
  readonly delayMs: number;
}

export const DEFAULT_MASK_MS = 20;
export const MASK_RANGE_MS = { min: 0, max: 100 } as const;
export const DELAY_RANGE_MS = { min: -100, max: 250 } as const;

export function newProfile(device: string): DeviceProfile {
  return {
    device,
    on: true,
    channel: 0,
    plays: "",
    mappings: [],
    curve: 0,
    fixedVelocity: 0,
    maskMs: DEFAULT_MASK_MS,
    padMaskMs: {},
    pedalReversed: false,
    delayMs: 0,
  };
}

export function sameTrigger(a: Trigger, b: Trigger): boolean {
  return a.kind === b.kind && a.number === b.number;
}

/** A trigger does one thing: what it did before is forgotten. */
export function learn(profile: DeviceProfile, mapping: Mapping): DeviceProfile {
  return { ...forget(profile, mapping.trigger), mappings: [...forget(profile, mapping.trigger).mappings, mapping] };
}

export function forget(profile: DeviceProfile, trigger: Trigger): DeviceProfile {
  return { ...profile, mappings: profile.mappings.filter((mapping) => !sameTrigger(mapping.trigger, trigger)) };
}
