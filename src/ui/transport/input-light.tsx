"use client";

import { useEffect, useRef } from "react";
import { Joystick } from "react-bootstrap-icons";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

/** A light for every hit that arrives, from whatever device, and the way to the view of all inputs. */
export function InputLight({ open, onToggle }: { readonly open: boolean; readonly onToggle: () => void }) {
  const workspace = useWorkspace();
  const devices = useWorkspaceState(({ midi }) => midi.devices.length);
  const light = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      workspace.recorder.onStrike(({ velocity }) =>
        light.current?.animate([{ opacity: 0.35 + velocity / 195 }, { opacity: 0 }], 300),
      ),
    [workspace],
  );
  return (
    <button type="button" className={`btn ${styles.inputs}`} aria-pressed={open} onClick={onToggle}>
      <span ref={light} className={styles.inputLight} aria-hidden />
      <Joystick aria-hidden /> Inputs
      {devices > 0 && <span className="numerals"> {devices}</span>}
    </button>
  );
}
