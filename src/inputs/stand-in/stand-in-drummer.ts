import { DRUMS } from "@/core/drums";
import { normal, seededRandom, textSeed } from "@/core/random";
import type { Meter } from "@/core/time/meter";
import { barTicks } from "@/core/time/meter";
import { secondsToTicks, ticksToSeconds } from "@/core/time/tempo";
import { asSeconds, asTicks, type Ticks } from "@/core/time/ticks";
import { HAT_PEDAL_CONTROLLER } from "../hat-pedal";
import type { MidiPort } from "../midi-port";
import { standInBar } from "./stand-in-score";
import { STAND_IN_NAME, type StandInSettings } from "./stand-in-settings";

/** Where the music is: what a drummer in the room hears. */
export interface HeardPosition {
  readonly segment: number;
  /** From the first downbeat; negative in the count-in. */
  readonly ticks: Ticks;
  readonly bpm: number;
}

export interface StandInDeps {
  settings(): StandInSettings;
  meter(): Meter;
  /** @returns undefined while the transport is stopped */
  heardAt(performanceMs: number): HeardPosition | undefined;
}

/** How often it listens, and how far ahead it knows what it will play: more than any push or spread. */
const LISTEN_MS = 25;
const AHEAD_SECONDS = asSeconds(0.2);
/** No stroke is further off than this, or it would be played before it was thought of. */
const MOST_OFF_MS = 120;
const NOTE_MS = 40;
const NOTE_ON = 0x99;
const NOTE_OFF = 0x89;
const CONTROLLER = 0xb9;
const PEDAL_DOWN = 127;

/** When something is to be done: at a place in the music, or so many milliseconds after it. */
interface Meant {
  readonly segment: number;
  readonly ticks: number;
  readonly offMs: number;
}

/** A drummer for whoever has no kit: plays a part in by the same door as every MIDI device, the same for the same seed. */
export class StandInDrummer implements MidiPort {
  readonly id = "stand-in";
  readonly name = STAND_IN_NAME;
  private readonly listeners = new Set<(bytes: ArrayLike<number>, timeMs: number) => void>();
  private readonly waiting = new Set<ReturnType<typeof setTimeout>>();
  private readonly timer: ReturnType<typeof setInterval>;
  private startedMs = performance.now();
  private run: number | undefined;
  private plannedTicks = 0;

  constructor(private readonly deps: StandInDeps) {
    this.timer = setInterval(() => this.plan(), LISTEN_MS);
  }

  listen(listener: (bytes: ArrayLike<number>, timeMs: number) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Puts the sticks down. */
  close(): void {
    clearInterval(this.timer);
    this.forgetPlans();
    this.listeners.clear();
  }

  private plan(): void {
    const nowMs = performance.now();
    const heard = this.heardAt(nowMs);
    if (!heard) {
      this.forgetPlans();
      this.run = undefined;
      return;
    }
    if (heard.segment !== this.run) {
      this.forgetPlans();
      this.run = heard.segment;
      // What has gone by is not made up for.
      this.plannedTicks = Math.max(0, heard.ticks);
    }
    const untilTicks = heard.ticks + secondsToTicks(AHEAD_SECONDS, heard.bpm);
    if (untilTicks > this.plannedTicks) {
      this.planStrokes(heard, this.plannedTicks, untilTicks);
      this.plannedTicks = untilTicks;
    }
  }

  private heardAt(nowMs: number): HeardPosition | undefined {
    return this.deps.settings().follows ? this.deps.heardAt(nowMs) : this.ownBeat(nowMs);
  }

  private ownBeat(nowMs: number): HeardPosition {
    const { bpm } = this.deps.settings();
    return { segment: -2, ticks: secondsToTicks(asSeconds((nowMs - this.startedMs) / 1000), bpm), bpm };
  }

  private planStrokes({ segment }: HeardPosition, fromTicks: number, untilTicks: number): void {
    const settings = this.deps.settings();
    const meter = this.deps.meter();
    const bar = barTicks(meter);
    for (let number = Math.floor(fromTicks / bar); number * bar < untilTicks; number++) {
      standInBar(settings.part, meter).forEach((stroke, index) => {
        const ticks = number * bar + stroke.ticks;
        if (ticks < fromTicks || ticks >= untilTicks) return;
        const random = seededRandom(textSeed(`${settings.seed} ${settings.part} ${number} ${index}`));
        const offMs = settings.lateMs + settings.spreadMs * normal(random);
        const at = { segment, ticks, offMs: Math.max(-MOST_OFF_MS, Math.min(MOST_OFF_MS, offMs)) };
        const velocity = Math.max(1, Math.min(127, Math.round(stroke.velocity + 5 * normal(random))));
        const opens = settings.pedal && stroke.note === DRUMS.closedHat.note && isLastEighth(stroke.ticks, bar);
        if (opens) this.openHats(at, { segment, ticks: (number + 1) * bar, offMs: 0 });
        this.planNote(opens ? DRUMS.openHat.note : stroke.note, velocity, at);
        if (random() < settings.doubles) {
          this.planNote(stroke.note, Math.max(1, Math.round(velocity * 0.4)), later(at, 8 + 6 * random()));
        }
      });
    }
  }

  private openHats(from: Meant, until: Meant): void {
    this.send([CONTROLLER, HAT_PEDAL_CONTROLLER, 0], later(from, -5));
    this.send([CONTROLLER, HAT_PEDAL_CONTROLLER, PEDAL_DOWN], later(until, -10));
  }

  private planNote(note: number, velocity: number, at: Meant): void {
    this.send([NOTE_ON, note, velocity], at);
    this.send([NOTE_OFF, note, 0], later(at, NOTE_MS));
  }

  /**
   * Sends at its time; the stamp is exact even where the page is late. The music is listened to until then: where the
   * sound stalls on a busy machine, the drummer waits with it.
   */
  private send(bytes: readonly number[], meant: Meant): void {
    const nowMs = performance.now();
    const heard = this.heardAt(nowMs);
    if (heard?.segment !== meant.segment) return;
    const timeMs = nowMs + ticksToSeconds(asTicks(meant.ticks - heard.ticks), heard.bpm) * 1000 + meant.offMs;
    if (timeMs <= nowMs) return this.listeners.forEach((listener) => listener(bytes, timeMs));
    const timeout = setTimeout(() => {
      this.waiting.delete(timeout);
      this.send(bytes, meant);
    }, timeMs - nowMs);
    this.waiting.add(timeout);
  }

  /** Only what is not yet struck: notes that sound end by the device's own letting go. */
  private forgetPlans(): void {
    this.waiting.forEach(clearTimeout);
    this.waiting.clear();
  }
}

function later(meant: Meant, byMs: number): Meant {
  return { ...meant, offMs: meant.offMs + byMs };
}

function isLastEighth(ticks: number, bar: number): boolean {
  return bar - ticks <= 480;
}
