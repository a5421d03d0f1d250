import type { Input } from "webmidi";
import type { MidiPort, MidiPortListener } from "./midi-port";

/** `off`: not asked for yet. `missing`: this browser has none. `refused`: the user, or a policy, said no. */
export type MidiAccess = "off" | "asking" | "on" | "missing" | "refused";

export interface WebMidiConnection {
  readonly access: "on" | "missing" | "refused";
  close(): Promise<void>;
}

/** True when the browser would let the page listen without asking again. */
export async function mayListenToMidi(): Promise<boolean> {
  try {
    const { state } = await navigator.permissions.query({ name: "midi" as PermissionName });
    return state === "granted";
  } catch {
    return false;
  }
}

/** Asks for the MIDI devices of the computer and follows them as they come and go. Never throws. */
export async function connectWebMidi(listener: MidiPortListener): Promise<WebMidiConnection> {
  const { WebMidi } = await import("webmidi");
  if (!WebMidi.supported) return { access: "missing", close: () => Promise.resolve() };
  try {
    await WebMidi.enable();
  } catch {
    return { access: "refused", close: () => Promise.resolve() };
  }
  const here = new Set<string>();
  const compare = () => {
    const present = WebMidi.inputs.filter(({ state }) => state === "connected");
    for (const id of here) {
      if (present.some((input) => input.id === id)) continue;
      here.delete(id);
      listener.unplugged(id);
    }
    for (const input of present) {
      if (here.has(input.id)) continue;
      here.add(input.id);
      listener.plugged(portOf(input));
    }
  };
  // Quirk: the library tells of a lost device only when the browser calls its connection "pending", and not all do so;
  // what is there now is the truth after every change.
  const access = WebMidi.interface;
  const own = access.onstatechange;
  access.onstatechange = (event) => {
    own?.call(access, event);
    compare();
  };
  compare();
  return {
    access: "on",
    async close() {
      await WebMidi.disable();
    },
  };
}

function portOf(input: Input): MidiPort {
  return {
    id: input.id,
    name: input.name,
    listen(receive) {
      const heard = ({ message, timestamp }: { message: { data: number[] }; timestamp: number }) =>
        receive(message.data, timestamp);
      input.addListener("midimessage", heard);
      return () => void input.removeListener("midimessage", heard);
    },
  };
}
