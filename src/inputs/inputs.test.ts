import { padsOf } from "@/core/beat/lanes";
import { newBeat } from "@/core/beat/new-beat";
import { DRUMS, type DrumId } from "@/core/drums";
import { GM_PERCUSSION } from "@/core/formats/midi/gm-percussion";
import type { Ticks } from "@/core/time/ticks";
import { forget, learn, newProfile, type DeviceProfile } from "./device-profile";
import { MidiDevice, type SeenMessage } from "./midi-device";
import { readMidiMessage } from "./midi-message";
import { StandInDrummer } from "./stand-in/stand-in-drummer";
import { DEFAULT_STAND_IN, type StandInSettings } from "./stand-in/stand-in-settings";
import { STAND_IN_PARTS, standInBar, type StandInPart } from "./stand-in/stand-in-score";
import { curvedVelocity } from "./velocity-curve";

const part = newBeat({ id: "b", name: "B" }).parts[0]!;
const pads = padsOf(part);
const padOf = (drum: DrumId) => pads.find(({ note }) => note === DRUMS[drum].note)!.id;

describe("messages, by the table of status bytes of the MIDI 1.0 Detailed Specification (from memory)", () => {
  test("kinds and channels: 8n note off, 9n note on, An key pressure, Bn control change, Dn channel pressure", () => {
    for (let n = 0; n < 16; n++) {
      const channel = n + 1;
      expect(readMidiMessage([0x80 | n, 38, 64])).toEqual({ type: "note-off", channel, note: 38 });
      expect(readMidiMessage([0x90 | n, 38, 64])).toEqual({ type: "note-on", channel, note: 38, velocity: 64 });
      expect(readMidiMessage([0xa0 | n, 49, 127])).toEqual({ type: "note-pressure", channel, note: 49, value: 127 });
      expect(readMidiMessage([0xb0 | n, 4, 90])).toEqual({ type: "controller", channel, controller: 4, value: 90 });
      expect(readMidiMessage([0xd0 | n, 77])).toEqual({ type: "channel-pressure", channel, value: 77 });
    }
  });

  test("a note-on with velocity 0 is a note-off", () =>
    expect(readMidiMessage([0x99, 36, 0])).toEqual({ type: "note-off", channel: 10, note: 36 }));

  test.each([
    ["program change", [0xc9, 5]],
    ["pitch bend", [0xe0, 0, 64]],
    ["clock", [0xf8]],
    ["active sensing", [0xfe]],
    ["system exclusive", [0xf0, 0x7e, 0xf7]],
    ["cut short", [0x99, 36]],
    ["nothing", []],
    ["a data byte over 127", [0x99, 200, 64]],
    ["no status byte", [36, 64, 0]],
  ])("%s plays nothing", (_, bytes) => expect(readMidiMessage(bytes)).toBeUndefined());
});

/** A device whose profile can be changed, and everything it did, in words. */
function device(change: Partial<DeviceProfile> = {}) {
  const did: string[] = [];
  const seen: SeenMessage[] = [];
  const state = { profile: { ...newProfile("Kit"), ...change }, taught: undefined as unknown };
  const name = (pad: number) => pads[pad]!.name;
  const midi = new MidiDevice({
    listener: {
      strike: ({ lane, velocity, masked, cutSeconds }) =>
        did.push(`${name(lane)} ${velocity}${masked ? " masked" : ""}${cutSeconds ? " short" : ""}`),
      release: ({ lane }) => did.push(`${name(lane)} up`),
      choke: ({ lane }) => did.push(`${name(lane)} choked`),
      press: (pad, velocity) => did.push(`${name(pad)} pressed ${velocity}`),
      command: (command, down) => did.push(`${command} ${down ? "down" : "up"}`),
    },
    profile: () => state.profile,
    part: () => part,
    seen: (message) => seen.push(message),
    taught: (trigger) => {
      if (state.taught === undefined) return false;
      state.taught = trigger;
      return true;
    },
  });
  let now = 0;
  const play = (...messages: readonly (readonly number[])[]) => {
    messages.forEach((bytes) => midi.receive(bytes, (now += 100)));
    return did.splice(0);
  };
  return { midi, play, did, seen, state, at: (ms: number, bytes: readonly number[]) => midi.receive(bytes, ms) };
}

describe("a device", () => {
  test("General MIDI percussion: every one of the 47 keys strikes a pad of its family (RP-003, from memory)", () => {
    for (const [note, { drum }] of Object.entries(GM_PERCUSSION)) {
      const { did, at } = device();
      at(0, [0x99, Number(note), 90]);
      const struck = pads.find((pad) => did[0]!.startsWith(pad.name))!;
      expect([note, struck.family]).toEqual([note, DRUMS[drum].family]);
    }
    expect(Object.keys(GM_PERCUSSION)).toHaveLength(47);
    expect(device().play([0x99, 12, 90])).toEqual([]);
  });

  test("strokes and their ends, by either kind of note-off; the same note again ends the one before", () => {
    const { play } = device();
    expect(play([0x99, 36, 90], [0x89, 36, 0], [0x99, 38, 80], [0x99, 38, 0])).toEqual([
      "Kick 90",
      "Kick up",
      "Snare 80",
      "Snare up",
    ]);
    expect(play([0x99, 36, 90], [0x99, 36, 91])).toEqual(["Kick 90", "Kick up", "Kick 91"]);
  });

  test("channel filter, off, fixed velocity and curve", () => {
    expect(device({ channel: 10 }).play([0x90, 36, 90], [0x99, 36, 90])).toEqual(["Kick 90"]);
    expect(device({ on: false }).play([0x99, 36, 90])).toEqual([]);
    expect(device({ fixedVelocity: 77 }).play([0x99, 36, 9])).toEqual(["Kick 77"]);
    expect(device({ curve: 1 }).play([0x99, 36, 32])).toEqual([`Kick ${curvedVelocity(32, 1)}`]);
  });

  test("double triggers: masked within the time of their pad, which a row of false notes does not lengthen", () => {
    const { at, did } = device({ padMaskMs: { [padOf("snare")]: 50 } });
    const strikes = () => did.splice(0).filter((what) => !what.endsWith("up"));
    [0, 12, 19.9, 20].forEach((ms) => at(ms, [0x99, 36, 90]));
    expect(strikes()).toEqual(["Kick 90", "Kick 90 masked", "Kick 90 masked", "Kick 90"]);
    [100, 149, 151].forEach((ms) => at(ms, [0x99, 38, 80]));
    expect(strikes()).toEqual(["Snare 80", "Snare 80 masked", "Snare 80"]);
  });

  test("the hat pedal chooses closed, half and open, closing stops the hats, and a quick foot splashes", () => {
    const { play, at, did } = device();
    expect(play([0x99, 42, 90])).toEqual(["Closed hat 90"]);
    expect(play([0xb9, 4, 127], [0x99, 46, 90])).toEqual(["Open hat choked", "Closed hat 90"]);
    expect(play([0xb9, 4, 60], [0x99, 42, 91]).slice(-1)).toEqual(["Open hat 91 short"]);
    expect(play([0xb9, 4, 0], [0x99, 42, 92]).slice(-1)).toEqual(["Open hat 92"]);
    did.length = 0;
    at(10_000, [0xb9, 4, 120]);
    at(10_100, [0xb9, 4, 10]);
    expect(did.splice(0)).toEqual(["Open hat choked", "Open hat 72"]);
    at(20_000, [0xb9, 4, 120]);
    at(20_400, [0xb9, 4, 10]);
    expect(did).toEqual(["Open hat choked"]);
    expect(device({ pedalReversed: true }).play([0xb9, 4, 0], [0x99, 46, 90])).toContain("Closed hat 90");
  });

  test("a hand on a cymbal chokes it; pressure on a drum is pressure; channel pressure goes to all that is held", () => {
    const { play } = device();
    expect(play([0x99, 49, 100], [0x89, 49, 0], [0xa9, 49, 127], [0xa9, 49, 0])).toEqual([
      "Crash 100",
      "Crash up",
      "Crash choked",
    ]);
    expect(play([0x99, 38, 100], [0xa9, 38, 70], [0xd9, 55])).toEqual([
      "Snare 100",
      "Snare pressed 70",
      "Snare pressed 55",
    ]);
  });

  test("learnt notes and controllers: pads and commands, held ones with their end, and forgotten again", () => {
    const { play, state } = device();
    const erase = {
      trigger: { kind: "controller", number: 20 },
      target: { kind: "command", command: "erase" },
    } as const;
    const clap = { trigger: { kind: "note", number: 12 }, target: { kind: "pad", pad: padOf("clap") } } as const;
    const rate = {
      trigger: { kind: "note", number: 36 },
      target: { kind: "command", command: "repeat 1/16" },
    } as const;
    state.profile = [erase, clap, rate].reduce(learn, state.profile);
    expect(play([0xb9, 20, 127], [0xb9, 20, 100], [0xb9, 20, 0])).toEqual(["erase down", "erase up"]);
    expect(play([0x99, 12, 64], [0x99, 36, 64], [0x89, 36, 0])).toEqual([
      "Clap 64",
      "repeat 1/16 down",
      "repeat 1/16 up",
    ]);
    state.profile = learn(state.profile, { ...clap, target: { kind: "pad", pad: padOf("kick") } });
    expect(state.profile.mappings).toHaveLength(3);
    state.profile = forget(state.profile, rate.trigger);
    expect(play([0x99, 36, 64])).toEqual(["Kick 64"]);
  });

  test("while somebody teaches, a note is taken as a trigger and plays nothing", () => {
    const { play, state } = device();
    state.taught = null;
    expect(play([0x99, 41, 64])).toEqual([]);
    expect(state.taught).toEqual({ kind: "note", number: 41 });
  });

  test("gone in the middle of it all: everything that is down is let go, once", () => {
    const { play, midi, did, state } = device();
    state.profile = learn(state.profile, {
      trigger: { kind: "controller", number: 20 },
      target: { kind: "command", command: "repeat 1/8" },
    });
    play([0x99, 36, 90], [0x99, 42, 90], [0xb9, 20, 127]);
    midi.letGo(1000);
    expect(did.splice(0)).toEqual(["Kick up", "Closed hat up", "repeat 1/8 up"]);
    midi.letGo(1001);
    expect(did).toEqual([]);
  });

  test("what came in is told with what it did, also when it did nothing", () => {
    const { play, seen } = device();
    play([0x99, 36, 90], [0x99, 3, 50], [0xb9, 7, 12]);
    expect(seen.map(({ trigger, value, did }) => [trigger.kind, trigger.number, value, did])).toEqual([
      ["note", 36, 90, "Kick"],
      ["note", 3, 50, undefined],
      ["controller", 7, 12, "nothing"],
    ]);
  });
});

test("velocity curves keep order, the hardest stroke, and 1 to 127; in the middle nothing changes", () => {
  for (const shape of [-1, -0.4, 0, 0.4, 1]) {
    const out = Array.from({ length: 127 }, (_, index) => curvedVelocity(index + 1, shape));
    out.forEach((velocity, index) => {
      expect(velocity).toBeGreaterThanOrEqual(Math.max(1, out[index - 1] ?? 1));
      expect(velocity).toBeLessThanOrEqual(127);
      if (shape === 0) expect(velocity).toBe(index + 1);
    });
    expect(out.at(-1)).toBe(127);
  }
});

describe("the stand-in drummer", () => {
  test.each(Object.keys(STAND_IN_PARTS) as StandInPart[])(
    "plays %s inside the bar, in any meter, on pads that exist",
    (part) => {
      for (const meter of [
        { beats: 4, unit: 4 },
        { beats: 7, unit: 8 },
        { beats: 6, unit: 8 },
        { beats: 3, unit: 8 },
      ] as const) {
        const bar = (meter.beats * 3840) / meter.unit;
        for (const { ticks, note, velocity } of standInBar(part, meter)) {
          expect(ticks >= 0 && ticks < bar && velocity > 0 && velocity < 128).toBe(true);
          expect(pads.some((pad) => pad.note === note)).toBe(true);
        }
      }
    },
  );

  /** What it plays over some seconds of transport at 120 BPM that starts at 1000 ms. */
  function perform(settings: Partial<StandInSettings>, seconds = 8) {
    jest.useFakeTimers();
    const drummer = new StandInDrummer({
      settings: () => ({ ...DEFAULT_STAND_IN, ...settings }),
      meter: () => ({ beats: 4, unit: 4 }),
      heardAt: (ms) => (ms < 900 ? undefined : { segment: 1, bpm: 120, ticks: ((ms - 1000) * 1.92) as Ticks }),
    });
    const notes: { note: number; velocity: number; ms: number; kind: number }[] = [];
    drummer.listen((bytes, ms) => notes.push({ kind: bytes[0]!, note: bytes[1]!, velocity: bytes[2]!, ms }));
    jest.advanceTimersByTime(1000 + seconds * 1000);
    drummer.close();
    jest.useRealTimers();
    return { ons: notes.filter(({ kind }) => kind === 0x99), all: notes };
  }

  test("stands on its beats without spread, moves as a whole, and is as loose as it is told", () => {
    const exact = perform({ spreadMs: 0 }).ons.slice(0, 16);
    exact.forEach(({ ms }, index) => expect(ms).toBeCloseTo(1000 + index * 500, 6));
    const late = perform({ spreadMs: 0, lateMs: -30 }).ons.slice(0, 16);
    late.forEach(({ ms }, index) => expect(ms).toBeCloseTo(970 + index * 500, 6));
    const loose = perform({ spreadMs: 12, part: "sixteenths" }, 20).ons;
    const errors = loose.map(({ ms }) => ((ms - 1000 + 62.5) % 125) - 62.5);
    const spread = Math.sqrt(errors.reduce((sum, error) => sum + error * error, 0) / errors.length);
    expect(spread).toBeGreaterThan(9);
    expect(spread).toBeLessThan(15);
  });

  test("the same seed plays the same, another another; double triggers follow their stroke; every note ends", () => {
    const [one, again, other] = [perform({ seed: 5 }), perform({ seed: 5 }), perform({ seed: 6 })];
    expect(again.ons).toEqual(one.ons);
    expect(other.ons).not.toEqual(one.ons);
    const { ons, all } = perform({ doubles: 1, spreadMs: 0 });
    for (let index = 0; index + 1 < 20; index += 2) {
      const gap = ons[index + 1]!.ms - ons[index]!.ms;
      expect(gap >= 8 && gap <= 14).toBe(true);
    }
    expect(all.filter(({ kind }) => kind === 0x89).length).toBeGreaterThanOrEqual(ons.length - 2);
  });

  test("with the pedal the hats open at the end of every bar and close on the next", () => {
    const { all } = perform({ part: "hats", pedal: true, spreadMs: 0 });
    const pedal = all.filter(({ kind }) => kind === 0xb9).map(({ note, velocity }) => [note, velocity]);
    expect(pedal.slice(0, 4)).toEqual([
      [4, 0],
      [4, 127],
      [4, 0],
      [4, 127],
    ]);
    expect(all.filter(({ kind, note }) => kind === 0x99 && note === 46)).toHaveLength(4);
  });
});

test("a message without a time has the time at which it came", () => {
  jest.spyOn(performance, "now").mockReturnValue(1234);
  const times: number[] = [];
  const midi = new MidiDevice({
    listener: {
      strike: ({ timeMs }) => times.push(timeMs),
      release: () => {},
      choke: () => {},
      press: () => {},
      command: () => {},
    },
    profile: () => newProfile("Kit"),
    part: () => part,
    seen: () => {},
    taught: () => false,
  });
  midi.receive([0x99, 36, 100], NaN);
  midi.receive([0x99, 38, 100], 77);
  expect(times).toEqual([1234, 77]);
  jest.restoreAllMocks();
});
