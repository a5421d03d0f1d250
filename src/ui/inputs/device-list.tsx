"use client";

import { KEYS_DEVICE, POINTER_DEVICE } from "@/inputs/played-hit";
import type { MidiAccess } from "@/inputs/web-midi";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./inputs.module.scss";

const ACCESS_WORDS: Readonly<Record<MidiAccess, string>> = {
  off: "MIDI devices are heard once the browser has asked you.",
  asking: "The browser is asking. Allow it to hear your MIDI devices.",
  on: "Devices can be plugged in and out at any time.",
  missing: "This browser has no MIDI. Keys, pointer and touch work; so does the stand-in drummer.",
  refused: "The browser was told not to let MIDI in. Allow it for this page beside the address, then try again.",
};

/** All devices that are here or were here; those that are gone keep their profile. */
export function DeviceList({ shown, onShow }: { readonly shown: string; readonly onShow: (device: string) => void }) {
  const workspace = useWorkspace();
  const { access, devices, profiles } = useWorkspaceState(({ midi }) => midi);
  const known = [...new Set([KEYS_DEVICE, POINTER_DEVICE, ...devices, ...Object.keys(profiles)])];
  const here = new Set([KEYS_DEVICE, POINTER_DEVICE, ...devices]);
  return (
    <section className={styles.panel} aria-labelledby="devices-title">
      <h2 id="devices-title">Devices</h2>
      <ul className={styles.devices}>
        {known.map((device) => (
          <li key={device}>
            <button
              type="button"
              className={styles.device}
              aria-current={device === shown}
              onClick={() => onShow(device)}
            >
              <span className={here.has(device) ? styles.plugged : styles.away} aria-hidden />
              {device}
              {!here.has(device) && <small> not plugged in</small>}
              {profiles[device]?.on === false && <small> off</small>}
            </button>
          </li>
        ))}
      </ul>
      <p className={styles.says} role="status">
        {ACCESS_WORDS[access]}
      </p>
      {(access === "off" || access === "refused" || access === "asking") && (
        <button
          type="button"
          className="btn btn-primary"
          disabled={access === "asking"}
          onClick={() => void workspace.devices.connect()}
        >
          Connect MIDI
        </button>
      )}
    </section>
  );
}
