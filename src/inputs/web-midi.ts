import type { Input, PortEvent, WebMidi as WebMidiInstance } from "webmidi";
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
  const plugged = ({ port }: PortEvent) => port.type === "input" && listener.plugged(portOf(port as Input));
  const unplugged = ({ port }: PortEvent) => port.type === "input" && listener.unplugged(port.id);
  try {
    await WebMidi.enable();
  } catch {
    return { access: "refused", close: () => Promise.resolve() };
  }
  WebMidi.inputs.forEach((input) => listener.plugged(portOf(input)));
  WebMidi.addListener("connected", plugged);
  WebMidi.addListener("disconnected", unplugged);
  return { access: "on", close: () => closeWebMidi(WebMidi) };
}

async function closeWebMidi(webMidi: typeof WebMidiInstance): Promise<void> {
  await webMidi.disable();
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
