import type { Beat } from "@/core/beat/beat";
import { findPart } from "@/core/beat/edit";
import type { CommandListener } from "@/inputs/commands";
import { forget, learn, newProfile, type DeviceProfile, type Target, type Trigger } from "@/inputs/device-profile";
import { MidiDevice, type SeenMessage } from "@/inputs/midi-device";
import type { MidiPort, MidiPortListener } from "@/inputs/midi-port";
import type { PadListener } from "@/inputs/played-hit";
import type { StandInDrummer } from "@/inputs/stand-in/stand-in-drummer";
import { connectWebMidi, mayListenToMidi, type WebMidiConnection } from "@/inputs/web-midi";
import type { Playback } from "../engine/playback";
import type { Repository } from "../persistence/repository";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { MidiState } from "../state/workspace-state";

/** Rows in the list of what came in last. */
const SEEN_KEPT = 24;
/** The list is shown no more often than this, however much comes in. */
const SHOW_INTERVAL_MS = 80;

interface Plugged {
  readonly port: MidiPort;
  readonly device: MidiDevice;
  readonly unlisten: () => void;
}

export interface DeviceHubDeps {
  readonly listener: PadListener & CommandListener;
  readonly playback: Playback;
  readonly repository: Pick<Repository, "readProfiles" | "writeProfile">;
}

/** All MIDI devices, the stand-in drummer among them: who is plugged in, how each is listened to, what came last. */
export class DeviceHub extends Controller implements MidiPortListener {
  private readonly plugs = new Map<string, Plugged>();
  private seen: readonly SeenMessage[] = [];
  /** Triggers already learnt in this turn. */
  private taught: string[] = [];
  private showTimer: ReturnType<typeof setTimeout> | undefined;
  private connection: WebMidiConnection | undefined;
  private standIn: StandInDrummer | undefined;
  private closed = false;
  /** The parts whose names were followed last. */
  private named: Beat["parts"];

  constructor(
    store: WorkspaceStore,
    private readonly deps: DeviceHubDeps,
  ) {
    super(store);
    this.named = this.beat.parts;
  }

  /** Reads the profiles, and listens where the browser has allowed it before. */
  async open(): Promise<void> {
    const profiles = await this.deps.repository.readProfiles();
    this.update({ profiles: { ...profiles, ...this.state.midi.profiles } });
    if (this.closed) return;
    this.followStandIn();
    if (await mayListenToMidi()) await this.connect();
  }

  /** Asks the browser for the MIDI devices. */
  async connect(): Promise<void> {
    const { access } = this.state.midi;
    if (access === "asking" || access === "on" || this.closed) return;
    this.update({ access: "asking" });
    this.connection = await connectWebMidi(this);
    if (this.closed) return void this.connection.close();
    this.update({ access: this.connection.access });
  }

  plugged(port: MidiPort): void {
    if (this.plugs.has(port.id)) return;
    const device = new MidiDevice({
      listener: this.listenerOf(port.name),
      profile: () => this.profileOf(port.name),
      part: () => findPart(this.beat, this.partOf(port.name) ?? this.state.patternRef.partId),
      seen: (message) => this.see(message),
      taught: (trigger) => this.teach(port.name, trigger),
    });
    const unlisten = port.listen((bytes, timeMs) => device.receive(bytes, timeMs));
    this.plugs.set(port.id, { port, device, unlisten });
    const { recoverable: lost } = this.state.midi;
    this.update({ devices: this.names(), recoverable: lost === port.name ? undefined : lost });
  }

  unplugged(portId: string): void {
    const plug = this.plugs.get(portId);
    if (!plug) return;
    this.plugs.delete(portId);
    plug.unlisten();
    plug.device.letGo(performance.now());
    this.update({ devices: this.names(), recoverable: plug.port === this.standIn ? undefined : plug.port.name });
  }

  /** Brings the stand-in drummer in or sends it home, as the settings say. */
  followStandIn(): void {
    const { standInOn } = this.state.settings;
    if (standInOn && !this.standIn) void this.bringInStandIn();
    if (standInOn || !this.standIn) return;
    this.unplugged(this.standIn.id);
    this.standIn.close();
    this.standIn = undefined;
  }

  private async bringInStandIn(): Promise<void> {
    const { StandInDrummer } = await import("@/inputs/stand-in/stand-in-drummer");
    // It may have been sent home meanwhile, or be here already.
    if (this.standIn || this.closed || !this.state.settings.standInOn) return;
    this.standIn = new StandInDrummer({
      settings: () => this.state.settings.standIn,
      meter: () => this.beat.meter,
      heardAt: (performanceMs) => {
        const audible = this.deps.playback.audibleAt(performanceMs);
        return audible && { segment: audible.anchor.segment, ticks: audible.ticks, bpm: audible.anchor.bpm };
      },
    });
    this.plugged(this.standIn);
  }

  /** The part that a device plays of its own choice; undefined where it plays the open one. */
  partOf(device: string): number | undefined {
    const { plays } = this.profileOf(device);
    return plays === "" ? undefined : this.beat.parts.find(({ name }) => name === plays)?.id;
  }

  /** Where a part has another name now, also by an undo, its devices go along. */
  followNames(): void {
    const { parts } = this.beat;
    if (parts === this.named) return;
    const names = new Map(this.named.map(({ id, name }) => [id, name]));
    this.named = parts;
    for (const { id, name } of parts) {
      const before = names.get(id);
      if (before === undefined || before === name) continue;
      for (const { device, plays } of Object.values(this.state.midi.profiles))
        if (plays === before) this.setProfile(device, { plays: name });
    }
  }

  profileOf(device: string): DeviceProfile {
    return this.state.midi.profiles[device] ?? newProfile(device);
  }

  setProfile(device: string, change: Partial<DeviceProfile>): void {
    const before = this.profileOf(device);
    const profile = { ...before, ...change };
    this.update({ profiles: { ...this.state.midi.profiles, [device]: profile } });
    // What is down would not be heard to end.
    if (!profile.on || profile.channel !== before.channel)
      for (const plug of this.plugsOf(device)) plug.device.letGo(performance.now());
    void this.deps.repository.writeProfile(profile);
  }

  /** The next note or controller of any device is to do this; undefined stops waiting. */
  learn(target: Target | undefined): void {
    this.learnInTurn(target ? [target] : []);
  }

  /** Each of these from the next hit, one after the other: what a device sends twice for one hit teaches one. */
  learnInTurn([learning, ...learnNext]: readonly Target[]): void {
    this.taught = [];
    this.update({ learning, learnNext });
  }

  /** There is nothing to hit for the one that is waited for. */
  skipLearning(): void {
    const [learning, ...learnNext] = this.state.midi.learnNext;
    this.update({ learning, learnNext });
  }

  /** A note or controller is to do something. */
  assign(device: string, trigger: Trigger, target: Target): void {
    this.setProfile(device, { mappings: learn(this.profileOf(device), { trigger, target }).mappings });
  }

  forget(device: string, trigger: Trigger): void {
    this.setProfile(device, { mappings: forget(this.profileOf(device), trigger).mappings });
  }

  readLost(): void {
    this.update({ recoverable: undefined });
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.showTimer);
    this.standIn?.close();
    this.plugs.forEach(({ unlisten }) => unlisten());
    void this.connection?.close();
  }

  /** What a device plays reaches its part. */
  private listenerOf(device: string): DeviceHubDeps["listener"] {
    const { listener } = this.deps;
    const inPart = <T extends object>(stroke: T): T & { readonly partId?: number } => {
      const partId = this.partOf(device);
      return { ...stroke, ...(partId !== undefined && { partId }) };
    };
    return {
      strike: (hit) => listener.strike(inPart(hit)),
      release: (release) => listener.release(inPart(release)),
      choke: (release) => listener.choke(inPart(release)),
      press: (pad, velocity) => listener.press(pad, velocity, this.partOf(device)),
      command: (command, down, timeMs) => listener.command(command, down, timeMs),
    };
  }

  private teach(device: string, trigger: Trigger): boolean {
    const { learning } = this.state.midi;
    if (!learning) return false;
    const key = `${device} ${trigger.kind} ${trigger.number}`;
    if (this.taught.includes(key)) return true;
    this.taught.push(key);
    this.skipLearning();
    this.assign(device, trigger, learning);
    return true;
  }

  private see(message: SeenMessage): void {
    this.seen = [message, ...this.seen].slice(0, SEEN_KEPT);
    this.showTimer ??= setTimeout(() => {
      this.showTimer = undefined;
      this.update({ seen: this.seen });
    }, SHOW_INTERVAL_MS);
  }

  private names(): string[] {
    return [...new Set([...this.plugs.values()].map(({ port }) => port.name))];
  }

  /** There may be two of one name. */
  private plugsOf(name: string): readonly Plugged[] {
    return [...this.plugs.values()].filter(({ port }) => port.name === name);
  }

  private update(change: Partial<MidiState>): void {
    this.set({ midi: { ...this.state.midi, ...change } });
  }
}
