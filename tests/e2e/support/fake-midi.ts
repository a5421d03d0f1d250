import type { Page } from "@playwright/test";

/** What stands in for the browser's MIDI: devices that the test plugs in, plays and pulls out. */
export interface FakeMidi {
  plug(id: string, name: string): void;
  unplug(id: string): void;
  /** Sends a message now, stamped now, or with the stamp given. */
  send(id: string, bytes: readonly number[], timeMs?: number): void;
}

/**
 * Replaces `navigator.requestMIDIAccess` before the page is opened: headless browsers have no devices.
 * @param mode `refused` throws what a browser throws when the user says no; `missing` takes MIDI away
 */
export async function installFakeMidi(page: Page, mode: "works" | "refused" | "missing" = "works"): Promise<void> {
  await page.addInitScript((mode) => {
    type Port = EventTarget & {
      id: string;
      name: string;
      manufacturer: string;
      type: "input";
      state: string;
      connection: string;
      onmidimessage: ((event: unknown) => void) | null;
      onstatechange: ((event: unknown) => void) | null;
      open(): Promise<unknown>;
      close(): Promise<unknown>;
    };
    const inputs = new Map<string, Port>();
    const access = {
      inputs,
      outputs: new Map(),
      sysexEnabled: false,
      onstatechange: null as ((event: unknown) => void) | null,
    };
    const tell = (port: Port) => {
      port.onstatechange?.({ port });
      access.onstatechange?.({ port });
    };
    (window as unknown as { fakeMidi: FakeMidi }).fakeMidi = {
      plug(id, name) {
        const port = Object.assign(new EventTarget(), {
          id,
          name,
          manufacturer: "Test",
          type: "input" as const,
          state: "connected",
          connection: "open",
          onmidimessage: null,
          onstatechange: null,
          open: () => Promise.resolve(port),
          close: () => Promise.resolve(port),
        }) as Port;
        inputs.set(id, port);
        tell(port);
      },
      unplug(id) {
        const port = inputs.get(id)!;
        port.state = "disconnected";
        port.connection = "pending";
        inputs.delete(id);
        tell(port);
      },
      send(id, bytes, timeMs = performance.now()) {
        inputs.get(id)?.onmidimessage?.({ data: Uint8Array.from(bytes), timeStamp: timeMs });
      },
    };
    const request =
      mode === "refused"
        ? () => Promise.reject(new DOMException("Permission denied", "NotAllowedError"))
        : () => Promise.resolve(access);
    Object.defineProperty(navigator, "requestMIDIAccess", {
      value: mode === "missing" ? undefined : request,
      configurable: true,
    });
  }, mode);
}

export function plug(page: Page, id: string, name: string): Promise<void> {
  return page.evaluate(([id, name]) => (window as unknown as { fakeMidi: FakeMidi }).fakeMidi.plug(id, name), [
    id,
    name,
  ] as const);
}

export function unplug(page: Page, id: string): Promise<void> {
  return page.evaluate((id) => (window as unknown as { fakeMidi: FakeMidi }).fakeMidi.unplug(id), id);
}

export function send(page: Page, id: string, ...messages: readonly (readonly number[])[]): Promise<void> {
  return page.evaluate(
    ({ id, messages }) =>
      messages.forEach((bytes) => (window as unknown as { fakeMidi: FakeMidi }).fakeMidi.send(id, bytes)),
    { id, messages },
  );
}

/** Lets the page hear the devices that are plugged in, by the button a user presses. */
export async function connectMidi(page: Page): Promise<void> {
  await page.getByRole("button", { name: /^Inputs/ }).click();
  await page.getByRole("button", { name: "Connect MIDI" }).click();
}
