"use client";

import { useRef } from "react";
import { Joystick } from "react-bootstrap-icons";
import { useFlash } from "../common/use-flash";
import { useWorkspaceState } from "../workspace/use-workspace";
import styles from "./top-strip.module.scss";

const ANY = () => true;

/** A light for every hit that arrives, from whatever device, and the way to the view of all inputs. */
export function InputLight({ open, onToggle }: { readonly open: boolean; readonly onToggle: () => void }) {
  const devices = useWorkspaceState(({ midi }) => midi.devices.length);
  const unasked = useWorkspaceState(({ midi }) => midi.access === "off" && midi.devices.length === 0);
  const light = useRef<HTMLSpanElement>(null);
  useFlash(light, ANY);
  return (
    <button type="button" className={`btn ${styles.inputs}`} aria-pressed={open} onClick={onToggle}>
      <span ref={light} className={styles.inputLight} aria-hidden />
      <Joystick aria-hidden /> Inputs
      {unasked && <small>Controller? Connect</small>}
      {devices > 0 && <span className="numerals"> {devices}</span>}
    </button>
  );
}
